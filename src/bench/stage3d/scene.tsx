'use client'
/** The bench itself: bodies on their mat, and what the pointer does on them. */
import { Html } from '@react-three/drei'
import { Canvas, useFrame, useThree, type RootState } from '@react-three/fiber'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { type DirectionalLight, Plane, Raycaster, Vector2, Vector3, type PerspectiveCamera } from 'three'
import { picking } from '@/bench/picking/client'
import type { BoreHit, Hit } from '@/bench/picking/worker'
import type { BenchBody } from '@/bench/state/job'
import type { Mark } from '@/bench/state/marks'
import { colourOf, useBench } from '@/bench/state/store'
import type { GhostState } from '@/bench/cards/use-ghost'
import type { Fault } from '@/core/mesh/check-up'
import { num } from '@/core/base/say'
import type { Pick, Region } from '@/core/find/region'
import type { Vec3 } from '@/core/math/vec'
import { AxisFollower, AxisMark } from './axis-mark'
import { BodyMesh, Overlay, OverlayLine } from './body-mesh'
import { Controls } from './controls'
import { useDrawing, type DrawMode, type Screen } from './drawing'
import { clipOf, Marks, SectionFaces } from './look-over'
import { Mat } from './mat'
import { sceneBounds } from './scene-bounds'
import { slotOf, takePoint } from './slots'

const plum = '#8a2f63',
  brick = '#c23b2e'

interface SceneProps {
  bodies: BenchBody[]
  ghost: GhostState
  faults: Fault[]
  marks: Mark[]
  dark: boolean
  onLoaded(): void
}

/** No graphics card: draw without the costly extras. */
function softwareRenderer(): boolean {
  try {
    const gl = document.createElement('canvas').getContext('webgl2')
    const info = gl?.getExtension('WEBGL_debug_renderer_info')
    return /swiftshader|llvmpipe|software/i.test(String(gl?.getParameter(info?.UNMASKED_RENDERER_WEBGL ?? 0x1f01)))
  } catch {
    return true
  }
}

function Sun({ bounds, stamp }: { bounds: ReturnType<typeof sceneBounds>; stamp: string }) {
  const light = useRef<DirectionalLight>(null)
  const { gl, invalidate, scene } = useThree()
  useEffect(() => {
    const l = light.current
    if (!l) return
    const r = bounds.radius
    l.position.set(bounds.centre[0] - 0.9 * r, bounds.centre[1] - 1.1 * r, bounds.centre[2] + 2.4 * r)
    l.target.position.set(...bounds.centre)
    scene.add(l.target)
    l.target.updateMatrixWorld()
    const cam = l.shadow.camera
    cam.left = cam.bottom = -1.5 * r
    cam.right = cam.top = 1.5 * r
    cam.near = 0.1 * r
    cam.far = 6 * r
    cam.updateProjectionMatrix()
    l.shadow.normalBias = 0.014 * r
    l.shadow.bias = -0.0006
    gl.shadowMap.autoUpdate = false
    gl.shadowMap.needsUpdate = true
    invalidate()
  }, [bounds, stamp, gl, invalidate, scene])
  return <directionalLight ref={light} intensity={2.1} castShadow shadow-mapSize={[2048, 2048]} shadow-radius={3} />
}

export function Scene({ bodies, ghost, faults, marks, dark, onLoaded }: SceneProps) {
  const { tool, looks, shading, pick, fault, selected, sections, comparison, sectionPick, map } = useBench()
  const { set, setValues } = useBench.getState()
  const root = useRef<RootState | null>(null)
  const soft = useMemo(() => (typeof document === 'undefined' ? true : softwareRenderer()), [])
  const shown = useMemo(
    () =>
      bodies.filter((b) => (comparison ? b.name === comparison.a || b.name === comparison.b : !looks[b.name]?.hidden)),
    [bodies, looks, comparison],
  )
  // A ghost stands in for the bodies it changes.
  const drawn = useMemo(() => {
    const list = shown.map((b) => ({ ...b, isGhost: false }))
    if (!ghost.bodies) return list.map((b) => (map?.name === b.name ? { ...b, hash: map.hash } : b))
    const kept = list.filter((b) => !(b.name in ghost.bodies!))
    for (const [name, hash] of Object.entries(ghost.bodies)) {
      const old = bodies.find((b) => b.name === name)
      if (hash)
        kept.push({
          name,
          hash: map?.name === name ? map.hash : hash,
          summary: ghost.summaries?.[hash] ?? old?.summary,
          isGhost: true,
        })
    }
    return kept
  }, [shown, ghost, bodies, map])
  const bounds = useMemo(() => sceneBounds(bodies.length ? bodies : drawn), [bodies, drawn])
  const [stamp, setStamp] = useState('')
  const shownHashes = drawn.map((d) => d.hash).join()
  const loaded = useCallback(() => {
    setStamp(`${shownHashes}${Date.now()}`)
    onLoaded()
  }, [shownHashes, onLoaded])
  useEffect(() => {
    setStamp(shownHashes)
  }, [shownHashes])
  useEffect(() => {
    void picking().keepOnly([
      ...new Set([
        ...bodies.map((b) => b.hash),
        ...drawn.map((d) => d.hash),
        ...Object.values(ghost.bodies ?? {}).filter((h): h is string => h !== null),
      ]),
    ])
  }, [bodies, drawn, ghost.bodies])

  const slot = slotOf(tool)
  const regionBody = tool && slot?.info.field === 'region' ? bodies.find((b) => b.name === tool.values.body) : undefined
  const region =
    (tool && slot?.info.field === 'region' ? (tool.values[slot.key] as Region | undefined) : undefined) ?? null
  const [regionPoints, setRegionPoints] = useState<Float32Array | null>(null)
  const [hoverBore, setHoverBore] = useState<BoreHit | null>(null)
  const [takenBore, setTakenBore] = useState<BoreHit | null>(null)
  const [added, setAdded] = useState<Float32Array | null>(null)
  const [snap, setSnap] = useState<Hit | null>(null)
  /** Labels need the canvas to stand in the page. */
  const [made, setMade] = useState(false)

  useEffect(() => {
    if (!region?.length || !regionBody) {
      setRegionPoints(null)
      set({ pickedCount: 0 })
      return
    }
    let live = true
    picking()
      .region(regionBody.hash, region)
      .then(
        (r) => {
          if (!live) return
          setRegionPoints(r.points)
          set({ pickedCount: r.count })
        },
        () => {},
      )
    return () => {
      live = false
    }
  }, [region, regionBody, set])
  useEffect(() => {
    setAdded(null)
    const changed = Object.values(ghost.bodies ?? {}).filter((h): h is string => h !== null)
    let live = true
    for (const hash of changed)
      void picking()
        .added(hash)
        .then((p) => {
          if (live && p.length) setAdded(p)
        })
    return () => {
      live = false
    }
  }, [ghost.bodies])
  useEffect(() => {
    if (tool?.kind !== 'build/edit-hole') {
      setHoverBore(null)
      setTakenBore(null)
    }
  }, [tool?.kind])

  const rayAt = useCallback((e: { clientX: number; clientY: number }): { origin: Vec3; direction: Vec3 } | null => {
    const state = root.current
    if (!state) return null
    const box = state.gl.domElement.getBoundingClientRect()
    const caster = new Raycaster()
    caster.setFromCamera(
      new Vector2(((e.clientX - box.left) / box.width) * 2 - 1, 1 - ((e.clientY - box.top) / box.height) * 2),
      state.camera,
    )
    const { origin: o, direction: d } = caster.ray
    return { origin: [o.x, o.y, o.z], direction: [d.x, d.y, d.z] }
  }, [])

  const pickable = useMemo(() => shown.map(({ name, hash }) => ({ name, hash })), [shown])
  const picksRegion = slot?.info.field === 'region'
  const drawsLine = slot?.info.field === 'view-line'
  const brushes = picksRegion && pick.way === 'brush'
  const drawMode: DrawMode | null = drawsLine
    ? tool?.values.by === 'outline'
      ? 'outline'
      : 'line'
    : picksRegion && (pick.way === 'box' || pick.way === 'lasso' || pick.way === 'circle' || pick.way === 'polygon')
      ? pick.way
      : null
  const touches = slot?.info.field === 'touch' || slot?.info.pick === 'point' || slot?.info.pick === 'rims'
  const down = useRef<{ x: number; y: number; path: Vec3[]; button: number } | null>(null)
  const hovering = useRef(false)

  const addPick = useCallback(
    (p: Pick, name: string) => {
      const t = useBench.getState().tool
      const s = slotOf(t)
      if (!t || !s) return
      const old = t.values.body === name || !t.values.body ? ((t.values[s.key] as Region | undefined) ?? []) : []
      setValues({ body: name, [s.key]: [...old, p] })
    },
    [setValues],
  )

  const click = useCallback(
    async (e: React.PointerEvent) => {
      const ray = rayAt(e)
      if (!ray) return
      const t = useBench.getState().tool
      const s = slotOf(t)
      if (t?.kind === 'build/edit-hole') {
        const bore = await picking().bore(pickable, ray.origin, ray.direction)
        if (bore) {
          setTakenBore(bore)
          set({ selected: bore.name })
          setValues({
            body: bore.name,
            at: bore.at.map((v) => Number(v.toFixed(5))),
            ...(t.values.body && t.values.at ? {} : {}),
          })
        } else set({ notice: { text: "There is no round hole there. Click on a hole's wall.", kind: 'bad' } })
        return
      }
      const at = useBench.getState()
      const hit: Hit | null =
        touches && at.sectionPick === null
          ? await picking().touch(pickable, ray.origin, ray.direction, snapReach(root.current))
          : await picking().pick(pickable, ray.origin, ray.direction)
      if (hit && at.sectionPick !== null) {
        const offset = hit.normal[0] * hit.point[0] + hit.normal[1] * hit.point[1] + hit.normal[2] * hit.point[2]
        // Half a millimetre into the body: exactly on a face there is nothing to see.
        set({
          sectionPick: null,
          sections: at.sections.map((x) =>
            x.id === at.sectionPick ? { ...x, axis: 'face', normal: hit.normal, offset: offset - 0.5, flip: false } : x,
          ),
        })
        return
      }
      if (!hit) {
        if (!t) set({ selected: null })
        return
      }
      if (t && s?.info.field === 'region') {
        const { way, mode, angle } = useBench.getState().pick
        if (way === 'grow') addPick({ pick: 'grow', mode, at: hit.point, angle }, hit.name)
        else if (way === 'piece') addPick({ pick: 'piece', mode, at: hit.point }, hit.name)
        return
      }
      // Another click may have filled the slot while this one was being answered: clicks fill slots in their order.
      const now = useBench.getState().tool,
        next = slotOf(now)
      if (now?.kind !== t?.kind) return
      if (now && next) takePoint(now, next, hit)
      else set({ selected: hit.name })
    },
    [addPick, pickable, rayAt, set, setValues, touches],
  )

  const target = bodies.find((b) => b.name === tool?.values.body) ?? bodies.find((b) => b.name === selected) ?? shown[0]
  const drawn2d = useCallback(
    (corners: Screen[]) => {
      const state = root.current
      const t = useBench.getState().tool
      if (!state || !target || !t) return
      const rays = corners.map(([clientX, clientY]) => rayAt({ clientX, clientY })!)
      const cam = state.camera as PerspectiveCamera
      const forward = cam.getWorldDirection(cam.position.clone())
      const tidy = (v: number) => Number(v.toFixed(5))
      const line = rays.map((r): Vec3 => [
        tidy(r.origin[0] + r.direction[0]),
        tidy(r.origin[1] + r.direction[1]),
        tidy(r.origin[2] + r.direction[2]),
      ])
      const view = {
        eye: rays[0].origin.map(tidy) as unknown as Vec3,
        toward: [tidy(forward.x), tidy(forward.y), tidy(forward.z)] as Vec3,
      }
      if (drawsLine) setValues({ ...(t.values.body ? {} : { body: target.name }), [slotOf(t)!.key]: { ...view, line } })
      else
        addPick(
          {
            pick: 'loop',
            mode: useBench.getState().pick.mode,
            ...view,
            loop: line,
            through: useBench.getState().pick.through,
          },
          target.name,
        )
    },
    [addPick, drawsLine, rayAt, setValues, target],
  )
  const drawing = useDrawing(drawMode, drawn2d)

  const onMove = useCallback(
    (e: React.PointerEvent) => {
      const d = down.current
      if (drawMode) {
        drawing.move([e.clientX, e.clientY])
        if (d) return
      }
      if (hovering.current || (d && !brushes)) return
      const ray = rayAt(e)
      if (!ray) return
      hovering.current = true
      const t = useBench.getState().tool
      const work =
        t?.kind === 'build/edit-hole'
          ? picking()
              .bore(pickable, ray.origin, ray.direction)
              .then((b) => {
                setHoverBore(b)
                set({ cursor: b?.at ?? null, hover: b?.name ?? null })
              })
          : (touches
              ? picking().touch(pickable, ray.origin, ray.direction, snapReach(root.current))
              : picking().pick(pickable, ray.origin, ray.direction)
            ).then((hit) => {
              setSnap(touches ? hit : null)
              set({ cursor: hit?.snap?.point ?? hit?.point ?? null, hover: hit?.name ?? null })
              if (hit && d && brushes) d.path.push(hit.point)
            })
      void work
        .catch(() => {})
        .finally(() => {
          hovering.current = false
        })
    },
    [brushes, drawMode, drawing, pickable, rayAt, set, touches],
  )
  useEffect(() => {
    if (!touches) setSnap(null)
  }, [touches])

  const clips = useMemo(() => sections.map(clipOf), [sections])
  const [wipe, setWipe] = useState<[Plane, Plane] | null>(null)
  const clipFor = (name: string) =>
    comparison?.how === 'wiped' && wipe
      ? [...clips, wipe[name === comparison.a ? 0 : 1]]
      : clips.length
        ? clips
        : undefined
  const shownFault = fault !== null ? faults[fault] : undefined
  const canvasBox = root.current?.gl.domElement.getBoundingClientRect()
  const label = takenBore ?? hoverBore
  return (
    <div
      className="canvas"
      data-testid="bench-canvas"
      role="application"
      aria-label="The bench: arrow keys turn the view, shift and arrows pan, plus and minus zoom"
      tabIndex={0}
      onPointerDown={(e) => {
        down.current = { x: e.clientX, y: e.clientY, path: [], button: e.button }
        if (e.button === 0) drawing.down([e.clientX, e.clientY])
      }}
      onPointerMove={onMove}
      onPointerUp={(e) => {
        const d = down.current
        down.current = null
        if (!d || d.button !== 0) return
        const still = Math.hypot(e.clientX - d.x, e.clientY - d.y) < 4
        if (sectionPick === null && drawing.up([e.clientX, e.clientY])) return
        if (brushes && target) {
          const path = d.path
          if (path.length) addPick({ pick: 'brush', mode: pick.mode, path, radius: pick.radius }, target.name)
          else if (still) void click(e)
        } else if (still) void click(e)
      }}
      onContextMenu={(e) => e.preventDefault()}
    >
      <Canvas
        frameloop="demand"
        shadows={soft ? 'basic' : 'percentage'}
        dpr={soft ? 1 : [1, 2]}
        gl={{ antialias: !soft, powerPreference: 'high-performance' }}
        camera={{ fov: 32, position: [120, -190, 140], near: 0.1, far: 5000, up: [0, 0, 1] }}
        onCreated={(s) => {
          root.current = s
          s.gl.localClippingEnabled = true
          setMade(true)
        }}
      >
        <hemisphereLight
          args={[dark ? '#8b949a' : '#ffffff', dark ? '#2a2d30' : '#b3aca0', dark ? 1.1 : 1.55]}
          position={[0, 0, 1]}
        />
        <Sun bounds={bounds} stamp={stamp} />
        <Mat bounds={bounds} dark={dark} />
        {drawn.map((b) => (
          <BodyMesh
            key={b.name}
            name={b.name}
            hash={b.hash}
            colour={colourOf(
              looks,
              b.name,
              Math.max(
                0,
                bodies.findIndex((x) => x.name === b.name),
              ),
            )}
            shading={shading}
            faint={!!looks[b.name]?.ghost || (comparison?.how === 'overlaid' && b.name === comparison.b)}
            ghost={b.isGhost && !bodies.some((x) => x.name === b.name)}
            ownColours={!!looks[b.name]?.pieces}
            clip={clipFor(b.name)}
            shift={
              comparison?.how === 'side by side' && b.name === comparison.b
                ? sideShift(bodies, comparison.a, comparison.b)
                : 0
            }
            onShown={loaded}
          />
        ))}
        {sections.map((s, i) => (
          <SectionFaces
            key={s.id}
            plane={s}
            others={clips.filter((_, j) => j !== i)}
            bodies={drawn
              .filter((b) => b.summary?.kind !== undefined)
              .map((b) => ({
                name: b.name,
                hash: b.hash,
                colour: colourOf(
                  looks,
                  b.name,
                  Math.max(
                    0,
                    bodies.findIndex((x) => x.name === b.name),
                  ),
                ),
              }))}
          />
        ))}
        {made && <Marks marks={marks} />}
        {snap?.snap && (
          <Html position={[...snap.snap.point]} zIndexRange={[2, 0]}>
            <span className="chip picked" style={{ transform: 'translate(10px, -120%)' }}>
              {snap.snap.kind === 'centre' ? 'centre of bore' : snap.snap.kind}
            </span>
          </Html>
        )}
        {regionPoints && <Overlay points={regionPoints} colour={plum} />}
        {added && <Overlay points={added} colour={plum} opacity={0.55} />}
        {hoverBore && !added && <Overlay points={hoverBore.points} colour={plum} opacity={0.5} />}
        {takenBore && !added && <Overlay points={takenBore.points} colour={plum} />}
        {faults.map(
          (f, i) => f.line && <OverlayLine key={`l${i}`} points={Float32Array.from(f.line)} colour={brick} />,
        )}
        <FaultTriangles faults={faults} bodies={bodies} />
        {shownFault && (
          <Html position={[...shownFault.at]} zIndexRange={[2, 0]}>
            <span className="chip fault">
              {shownFault.kind === 'hole' ? 'open rim' : shownFault.kind} ·{' '}
              <b className="figure">{num(shownFault.length ?? shownFault.reach, 1)} mm</b>
            </span>
          </Html>
        )}
        {label && tool?.kind === 'build/edit-hole' && (
          <Html position={[...label.centre]} zIndexRange={[2, 0]}>
            <span className="chip picked">
              Ø <b className="figure">{num(label.diameter)}</b>
              {(tool.values.action ?? 'resize') === 'resize' && tool.values.diameter && takenBore ? (
                <>
                  {' '}
                  → <b className="figure">{num(Number(tool.values.diameter))}</b>
                </>
              ) : null}{' '}
              mm, {label.through ? 'through' : `${num(label.depth, 1)} deep`}
            </span>
          </Html>
        )}
        <Controls bounds={bounds} free={!brushes && (!drawMode || sectionPick !== null)} />
        {comparison?.how === 'wiped' && <Wipe at={comparison.at} onPlanes={setWipe} />}
        <AxisFollower />
        <TestHandle />
      </Canvas>
      {drawing.shape && canvasBox && (
        <svg className="lasso">
          {drawing.shape.closed ? (
            <polygon
              points={drawing.shape.points.map(([x, y]) => `${x - canvasBox.left},${y - canvasBox.top}`).join(' ')}
              fill="rgb(138 47 99 / 15%)"
              stroke={plum}
              strokeWidth="1.5"
              strokeDasharray="5 3"
            />
          ) : (
            <polyline
              points={drawing.shape.points.map(([x, y]) => `${x - canvasBox.left},${y - canvasBox.top}`).join(' ')}
              fill="none"
              stroke={plum}
              strokeWidth="2"
            />
          )}
          {!drawing.shape.closed && (
            <circle
              cx={drawing.shape.points[0][0] - canvasBox.left}
              cy={drawing.shape.points[0][1] - canvasBox.top}
              r="5"
              fill={plum}
            />
          )}
        </svg>
      )}
      {comparison?.how === 'wiped' && <div className="wipe" style={{ left: `${100 * comparison.at}%` }} />}
      <AxisMark />
    </div>
  )
}

/** Eight pixels, in mm at the middle of the view. */
function snapReach(state: RootState | null): number {
  if (!state) return 1
  const cam = state.camera as PerspectiveCamera
  const target = (state.controls as unknown as { target?: Vector3 } | null)?.target ?? new Vector3(0, 0, 0)
  return (8 * 2 * Math.tan((cam.fov * Math.PI) / 360) * cam.position.distanceTo(target)) / state.size.height
}

/** How far the second body is set aside so that both are seen whole. */
function sideShift(bodies: readonly BenchBody[], a: string, b: string): number {
  const of = (n: string) => bodies.find((x) => x.name === n)?.summary
  const p = of(a),
    q = of(b)
  return p && q ? p.min[0] + p.size[0] - q.min[0] + 0.15 * Math.max(p.size[0], q.size[0]) : 0
}

/** The two half-spaces left and right of an upright line across the view, through the eye. */
function Wipe({ at, onPlanes }: { at: number; onPlanes(p: [Plane, Plane]): void }) {
  const { camera } = useThree()
  const last = useRef('')
  useFrame(() => {
    const key = `${at} ${camera.position.toArray().join()} ${camera.quaternion.toArray().join()}`
    if (key === last.current) return
    last.current = key
    camera.updateMatrixWorld()
    const edge = (y: number) => new Vector3(2 * at - 1, y, 0.5).unproject(camera)
    const p = new Plane().setFromCoplanarPoints(camera.position, edge(-1), edge(1))
    const right = new Vector3(1, 0, 0).applyQuaternion(camera.quaternion)
    if (p.normal.dot(right) < 0) p.negate()
    onPlanes([p.clone().negate(), p])
  })
  return null
}

/** Triangles of faults that have no line of their own. */
function FaultTriangles({ faults, bodies }: { faults: Fault[]; bodies: BenchBody[] }) {
  const of = useBench((s) => s.checkUpOf)
  const hash = bodies.find((b) => b.name === of)?.hash
  const [points, setPoints] = useState<Float32Array | null>(null)
  useEffect(() => {
    const list = faults.flatMap((f) => f.triangles ?? [])
    setPoints(null)
    if (!hash || !list.length) return
    let live = true
    void picking()
      .triangles(hash, list)
      .then((p) => {
        if (live) setPoints(p)
      })
    return () => {
      live = false
    }
  }, [faults, hash])
  return points ? <Overlay points={points} colour={brick} opacity={0.9} /> : null
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
