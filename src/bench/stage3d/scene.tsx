'use client'
/** The bench itself: bodies on their mat, and over them what faults, marks and hands show. */
import { Canvas, useThree } from '@react-three/fiber'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { Plane } from 'three'
import { useShallow } from 'zustand/react/shallow'
import type { Fault } from '@/core/mesh/check-up'
import type { Vec3 } from '@/core/math/vec'
import { useCage } from '@/bench/cage/state'
import { BodyView } from '@/bench/draw/body-view'
import { isLive } from '@/bench/draw/displays'
import { FaultLabel, FaultLines } from '@/bench/draw/faults'
import { mostLost } from '@/core/gauge/loyalty'
import { KeptView } from '@/bench/draw/kept-view'
import { useKept } from '@/bench/looks/kept-map'
import { LabelFollower } from '@/bench/draw/labels'
import { MarkLabels, MarkLines } from '@/bench/draw/marks'
import { MomentLabel, MomentOver } from '@/bench/draw/moment-view'
import { Overlay } from '@/bench/draw/overlays'
import { clipOf, SectionFaces } from '@/bench/draw/section-faces'
import type { GhostState } from '@/bench/ghost/ghost-state'
import { picking } from '@/bench/picking/client'
import { benchBodies, layBodies } from '@/bench/state/bodies'
import type { BenchBody } from '@/bench/state/job'
import type { Mark } from '@/bench/state/marks'
import { colourOf, isFaint, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { toolOf } from '@/bench/tools/registry'
import { AxisFollower, AxisMark } from './axis-mark'
import { Controls } from './controls'
import { clipFor, drawnBodies, shownBodies, sideShift } from './drawn-bodies'
import { HandsFlat, HandsOver } from './hands-view'
import { drawnDetail, Sky, softwareRenderer, Sun } from './lights'
import { LostContext } from './lost-context'
import { Mat } from './mat'
import { routePointer } from './router'
import { reachesBelow, sceneBounds } from './scene-bounds'
import { stage } from './view'
import { Wipe } from './wipe'

interface SceneProps {
  bodies: BenchBody[]
  ghost: GhostState
  faults: Fault[]
  marks: Mark[]
  dark: boolean
  onLoaded(): void
}

/** What is drawn: bodies and the ghost's, without what the tool in hand draws itself. */
function useDrawn(bodies: BenchBody[], shown: BenchBody[], ghost: GhostState) {
  const { map, kept } = useBench(useShallow((s) => ({ map: s.map, kept: s.kept })))
  const draws = useTool((s) => (s.tool ? toolOf(s.tool.kind)?.draws : undefined))
  const instead = useTool((s) => (draws === 'instead' ? s.tool?.values.body : undefined))
  const joined = useTool((s) => (draws === 'instead' ? (s.tool?.values.joined as string[] | undefined) : undefined))
  // The scan that a cage is brought to would hide it.
  const scan = useTool((s) => (draws === 'instead' ? s.tool?.values.scan : undefined))
  const showScan = useCage((s) => s.showScan)
  const drawn = useMemo(
    () =>
      drawnBodies(
        bodies,
        instead
          ? shown.filter((b) => b.name !== instead && !joined?.includes(b.name) && (showScan || b.name !== scan))
          : shown,
        draws ? { bodies: null, summaries: null } : ghost,
        map,
        kept,
      ),
    [bodies, shown, draws, instead, joined, scan, showScan, ghost, map, kept],
  )
  return { drawn, draws, scan }
}

/** Lays what is on the bench where hands and the picking worker find it; the worker forgets all else. */
function useLaid(bodies: BenchBody[], shown: BenchBody[], drawn: readonly { hash: string }[], ghost: GhostState) {
  const kept = useBench((s) => s.kept)
  useEffect(() => {
    layBodies(bodies)
    stage.setState({ shown, ghosted: ghost.bodies !== null, ghostBodies: ghost.bodies })
  }, [bodies, shown, ghost.bodies])
  useEffect(() => {
    const held = [
      kept?.before ?? null,
      ...bodies.map((b) => b.hash),
      ...drawn.map((d) => d.hash),
      ...Object.values(ghost.bodies ?? {}),
    ]
    void picking().keepOnly([...new Set(held.filter((h): h is string => h !== null && !isLive(h)))])
  }, [bodies, drawn, ghost.bodies, kept])
}

/** The element that the canvas fills: where it stands is told to what is drawn over it, and its pointer goes to the hands. */
function useFrameOfCanvas() {
  const frame = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const element = frame.current!
    const measure = () => stage.setState({ box: element.getBoundingClientRect() })
    measure()
    const watch = new ResizeObserver(measure)
    watch.observe(element)
    const stop = routePointer(element)
    return () => {
      watch.disconnect()
      stop()
    }
  }, [])
  return frame
}

export function Scene({ bodies, ghost, faults, marks, dark, onLoaded }: SceneProps) {
  const comparison = useBench((s) => s.comparison)
  const looks = useBench((s) => s.looks)
  const kept = useBench((s) => s.kept)
  const frame = useFrameOfCanvas()
  const soft = useMemo(() => (typeof document === 'undefined' ? true : softwareRenderer()), [])
  const detail = drawnDetail(soft)
  const shown = useMemo(() => shownBodies(bodies, looks, comparison), [bodies, looks, comparison])
  const { drawn, draws, scan } = useDrawn(bodies, shown, ghost)
  useLaid(bodies, shown, drawn, ghost)
  const bounds = useMemo(() => sceneBounds(bodies.length ? bodies : drawn), [bodies, drawn])
  const [stamp, setStamp] = useState('')
  const hashes = drawn.map((d) => d.hash).join()
  const loaded = useCallback(() => {
    setStamp(`${hashes}${Date.now()}`)
    onLoaded()
  }, [hashes, onLoaded])
  useEffect(() => setStamp(hashes), [hashes])
  const [life, setLife] = useState(0)
  const gone = useCallback(() => setLife((n) => n + 1), [])
  const wiped = comparison?.how === 'wiped' ? comparison.at : null
  const [wipe, setWipe] = useState<[Plane, Plane] | null>(null)
  return (
    <div
      ref={frame}
      className="canvas"
      data-testid="bench-canvas"
      role="application"
      aria-label="The bench: arrow keys turn the view, shift and arrows pan, plus and minus zoom"
      tabIndex={0}
    >
      <Canvas
        key={life}
        frameloop="demand"
        shadows={soft ? 'basic' : 'percentage'}
        dpr={soft ? detail : [1, 2]}
        gl={{ antialias: !soft, powerPreference: 'high-performance' }}
        camera={{ fov: 32, position: [120, -190, 140], near: 0.1, far: 5000, up: [0, 0, 1] }}
        onCreated={(root) => {
          root.gl.localClippingEnabled = true
          stage.setState({ root })
        }}
      >
        <Sky dark={dark} />
        <Sun bounds={bounds} stamp={stamp} detail={detail} />
        <Mat bounds={bounds} dark={dark} detail={detail} under={reachesBelow(drawn)} />
        {/* A drawing in hand is drawn by its own hand, and all else stands back. */}
        <DrawnBodies
          bodies={bodies}
          drawn={drawn}
          back={draws === 'beside' ? 'all' : scan}
          wipe={wipe}
          onShown={loaded}
        />
        {kept ? <KeptView /> : draws ? null : <Added ghost={ghost} />}
        <MarkLines marks={marks} />
        <FaultLines faults={faults} />
        <HandsOver />
        <MomentOver />
        <Controls bounds={bounds} />
        {wiped !== null && <Wipe at={wiped} onPlanes={setWipe} />}
        <AxisFollower />
        <LabelFollower />
        <LostContext onGone={gone} />
        <TestHandle />
      </Canvas>
      <div className="labels">
        <MarkLabels marks={marks} />
        <FaultLabel faults={faults} />
        <MomentLabel />
        <HandsFlat />
      </div>
      {wiped !== null && <div className="wipe" style={{ left: `${100 * wiped}%` }} />}
      <AxisMark />
    </div>
  )
}

interface DrawnBodiesProps {
  bodies: BenchBody[]
  drawn: ReturnType<typeof drawnBodies>
  /** What stands back: the name of a body, or all. */
  back: unknown
  wipe: [Plane, Plane] | null
  onShown(): void
}

/** The bodies, cut by the planes of the section view, and the faces that these cut. */
function DrawnBodies({ bodies, drawn, back, wipe, onShown }: DrawnBodiesProps) {
  const { looks, map, shading, sections, comparison, kept } = useBench(
    useShallow((s) => ({
      looks: s.looks,
      map: s.map,
      shading: s.shading,
      sections: s.sections,
      comparison: s.comparison,
      kept: s.kept,
    })),
  )
  const clips = useMemo(() => sections.map(clipOf), [sections])
  // What a step took away lies behind the skin that it left.
  const { data: keptMap } = useKept(kept)
  const hidden = !!keptMap && keptMap.shares.inside + keptMap.shares.lost > mostLost
  const colour = (name: string) => {
    const at = bodies.findIndex((x) => x.name === name)
    return colourOf(looks, bodies[at] ?? { name }, Math.max(0, at))
  }
  const second = (name: string, how: 'overlaid' | 'side by side') =>
    comparison?.how === how && name === comparison.b ? comparison : null
  return (
    <>
      {drawn.map(({ name, hash, isGhost, back: behind }) => {
        const beside = second(name, 'side by side')
        return (
          <BodyView
            key={name}
            name={name}
            hash={hash}
            colour={colour(name)}
            shading={shading}
            faint={
              back === 'all' ||
              name === back ||
              isFaint(looks, { name, back: behind && map?.name !== name && !isGhost }) ||
              !!second(name, 'overlaid') ||
              (kept?.name === name && hidden)
            }
            ghost={isGhost && !bodies.some((x) => x.name === name)}
            ownColours={!!looks[name]?.pieces}
            clip={clipFor(name, clips, comparison, wipe)}
            shift={beside ? sideShift(bodies, beside.a, beside.b) : 0}
            onShown={onShown}
          />
        )
      })}
      {sections.map((s, i) => (
        <SectionFaces
          key={s.id}
          plane={s}
          others={clips.filter((_, j) => j !== i)}
          bodies={drawn
            .filter((b) => b.facts?.can.includes('surface') && !isLive(b.hash))
            .map((b) => ({ name: b.name, hash: b.hash, colour: colour(b.name) }))}
        />
      ))}
    </>
  )
}

/** What the ghost adds to a body, in plum. */
function Added({ ghost }: { ghost: GhostState }) {
  const [added, setAdded] = useState<Float32Array | null>(null)
  const { bodies } = ghost
  useEffect(() => {
    setAdded(null)
    let live = true
    for (const [name, hash] of Object.entries(bodies ?? {}))
      if (hash !== null && !isLive(hash))
        void picking()
          .added(hash, benchBodies().find((b) => b.name === name)?.hash)
          .then((p) => {
            if (live && p.length) setAdded(p)
          })
    return () => {
      live = false
    }
  }, [bodies])
  return added && <Overlay points={added} colour="#8a2f63" opacity={0.55} />
}

/** Lets a test ask where a point of the model stands on the screen, so that it can click there as a person would. */
function TestHandle() {
  const { camera, gl } = useThree()
  useEffect(() => {
    const w = window as unknown as { glueBenchScreenPoint?: (p: Vec3) => [number, number] }
    w.glueBenchScreenPoint = (p) => {
      camera.updateMatrixWorld()
      const v = camera.position
        .clone()
        .set(...p)
        .project(camera)
      const box = gl.domElement.getBoundingClientRect()
      return [box.left + ((v.x + 1) / 2) * box.width, box.top + ((1 - v.y) / 2) * box.height]
    }
    return () => {
      delete w.glueBenchScreenPoint
    }
  }, [camera, gl])
  return null
}
