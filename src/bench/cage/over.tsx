/** The cage in hand among the bodies: its smooth surface, its net of control points, what is picked in plum, and the arrows to pull at. */
import { useFrame, useThree } from '@react-three/fiber'
import { useEffect, useMemo } from 'react'
import { BufferAttribute, BufferGeometry, Color, DoubleSide } from 'three'
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js'
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js'
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js'
import { endsOfKey } from '@/core/mesh/edge-key'
import { halfOfEdge } from '@/core/cage/edit/net'
import type { PickSort } from '@/core/cage/edit/select'
import { num } from '@/core/base/say'
import type { Cage } from '@/core/subdivision/subdivide'
import { stripes } from '@/bench/draw/stripes'
import { colourAt } from '@/bench/draw/ramp'
import { Label } from '@/bench/draw/labels'
import { Handle } from '@/bench/hands/handle'
import { useJobBodies } from '@/bench/state/bodies'
import { colourOf, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { handlesNow } from './pulls'
import { editsOf, joinedTo, putCageAway, refreshCage, useCage } from './state'

const plum = '#8a2f63'
const ink = '#23272b'

/** Places of parts of the cage, for drawing: points as they are, edges as lines, faces as triangles. */
function placesOf(cage: Cage, sort: PickSort, ids: readonly number[]): Float32Array {
  const out: number[] = []
  const put = (v: number) => out.push(cage.positions[3 * v], cage.positions[3 * v + 1], cage.positions[3 * v + 2])
  for (const id of ids) {
    if (sort === 'points') put(id)
    else if (sort === 'edges') endsOfKey(id).forEach(put)
    else for (const c of [0, 1, 2, 0, 2, 3]) put(cage.quads[4 * id + c])
  }
  return Float32Array.from(out)
}

function useGeometry(places: Float32Array): BufferGeometry {
  const g = useMemo(() => {
    const made = new BufferGeometry()
    made.setAttribute('position', new BufferAttribute(places, 3))
    return made
  }, [places])
  useEffect(() => () => g.dispose(), [g])
  return g
}

/** How far off the scan colours are full, as a share of the body's size. */
export const fullShare = 0.01

/** Where colours are full and where they begin, mm. */
export function wornBounds(cage: Cage): { full: number; even: number } {
  const p = cage.positions
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < p.length; i++) {
    low[i % 3] = Math.min(low[i % 3], p[i])
    high[i % 3] = Math.max(high[i % 3], p[i])
  }
  const size = Math.hypot(...high.map((h, k) => h - low[k]))
  const full = Number((fullShare * size).toPrecision(1))
  return { full, even: full / 10 }
}

export function CageOver() {
  const invalidate = useThree((s) => s.invalidate)
  const tool = useTool((s) => s.tool)
  const edits = editsOf(tool)
  const bodies = useJobBodies((list) => list)
  const wear = useCage((s) => s.wear)
  const { body, scan } = tool?.values ?? {}
  const joined = joinedTo(tool).join()
  useEffect(refreshCage, [edits, bodies, wear, body, scan, joined])
  useEffect(() => putCageAway, [])
  const cage = useCage((s) => s.cage)
  const picked = useCage((s) => s.picked)
  const hot = useCage((s) => s.hot)
  const sort = useCage((s) => s.sort)
  useCage((s) => s.handles)
  useEffect(() => invalidate(), [cage, picked, hot, sort, invalidate])
  if (!cage) return null
  return (
    <>
      <SmoothSkin />
      <Net cage={cage} />
      <Parts cage={cage} sort="points" ids={picked.points} />
      <Parts cage={cage} sort="edges" ids={picked.edges} />
      <Parts cage={cage} sort="faces" ids={picked.faces} />
      {hot !== null && <Parts cage={cage} sort={sort} ids={[hot]} faint />}
      <Corners />
      {handlesNow().map((h) => (
        <Handle key={h.key} handle={h} hot={false} />
      ))}
    </>
  )
}

/** The limit surface, shaded as the bench is, or coloured by its distance to the scan. */
function SmoothSkin() {
  const skin = useCage((s) => s.skin)
  const cage = useCage((s) => s.cage)
  const wear = useCage((s) => s.wear)
  const shading = useBench((s) => s.shading)
  const looks = useBench((s) => s.looks)
  const name = useTool((s) => s.tool?.values.body)
  const colour = useJobBodies((list) => {
    const at = list.findIndex((b) => b.name === name)
    return colourOf(looks, list[at] ?? { name: String(name) }, Math.max(0, at))
  })
  const invalidate = useThree((s) => s.invalidate)
  const index = skin?.index
  const geometry = useMemo(() => {
    const g = new BufferGeometry()
    if (index) g.setIndex(new BufferAttribute(index, 1))
    return g
  }, [index])
  useEffect(() => () => geometry.dispose(), [geometry])
  useEffect(() => {
    if (!skin || !cage) return
    // Places change many times a second while something is pulled: the buffers stay.
    const put = (name: string, data: Float32Array) => {
      const old = geometry.getAttribute(name) as BufferAttribute | undefined
      if (old && old.array.length === data.length) {
        ;(old.array as Float32Array).set(data)
        old.needsUpdate = true
      } else geometry.setAttribute(name, new BufferAttribute(data, 3))
    }
    put('position', skin.skin)
    put('normal', skin.normals)
    if (skin.off && wear) {
      const { full, even } = wornBounds(cage)
      const colours = new Float32Array(skin.skin.length)
      const c = new Color()
      skin.off.forEach((d, v) => {
        c.setRGB(...colourAt(d, full, even), 'srgb')
        colours.set([c.r, c.g, c.b], 3 * v)
      })
      put('color', colours)
    } else geometry.deleteAttribute('color')
    geometry.computeBoundingSphere()
    invalidate()
  }, [geometry, skin, cage, wear, invalidate])
  const stripe = useMemo(() => (shading === 'stripes' ? stripes() : null), [shading])
  useFrame(() => {
    stripe?.uniforms.tint.value.set(colour)
  })
  const worn = !!skin?.off && wear
  if (!skin) return null
  return (
    <mesh geometry={geometry} castShadow receiveShadow>
      {stripe ? (
        <primitive object={stripe} attach="material" />
      ) : (
        <meshStandardMaterial
          key={worn ? 'worn' : 'plain'}
          color={worn ? '#ffffff' : colour}
          vertexColors={worn}
          roughness={0.78}
          metalness={0}
          side={DoubleSide}
          transparent={shading === 'see-through'}
          opacity={shading === 'see-through' ? 0.4 : 1}
          polygonOffset
          polygonOffsetFactor={1}
          polygonOffsetUnits={1}
        />
      )}
    </mesh>
  )
}

/** Edges of the cage, creased ones heavier by a second line, and its control points as small dots. */
function Net({ cage }: { cage: Cage }) {
  const sort = useCage((s) => s.sort)
  const { quads, creases } = cage
  const edges = useMemo(
    () => [...halfOfEdge({ ...cage, quads }).keys()],
    // eslint-disable-next-line react-hooks/exhaustive-deps -- edges follow the faces, not the places
    [quads],
  )
  const lines = useGeometry(useMemo(() => placesOf(cage, 'edges', edges), [cage, edges]))
  const sharp = useGeometry(useMemo(() => placesOf(cage, 'edges', [...creases.keys()]), [cage, creases]))
  const points = useGeometry(useMemo(() => Float32Array.from(cage.positions), [cage]))
  return (
    <>
      <lineSegments geometry={lines} renderOrder={1}>
        <lineBasicMaterial color={ink} transparent opacity={0.55} />
      </lineSegments>
      <lineSegments geometry={sharp} renderOrder={2}>
        <lineBasicMaterial color="#a8780b" />
      </lineSegments>
      {sort === 'points' && (
        <points geometry={points} renderOrder={2}>
          <pointsMaterial color={ink} size={4} sizeAttenuation={false} />
        </points>
      )}
    </>
  )
}

/** Corners of the face that is being drawn. */
function Corners() {
  const corners = useCage((s) => s.corners)
  const invalidate = useThree((s) => s.invalidate)
  const geometry = useGeometry(useMemo(() => Float32Array.from(corners.flat()), [corners]))
  useEffect(() => invalidate(), [geometry, invalidate])
  return corners.length ? (
    <points geometry={geometry} renderOrder={5}>
      <pointsMaterial color={plum} size={9} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  ) : null
}

/** What is picked, or under the pointer. */
function Parts({
  cage,
  sort,
  ids,
  faint = false,
}: {
  cage: Cage
  sort: PickSort
  ids: readonly number[]
  faint?: boolean
}) {
  const places = useMemo(() => placesOf(cage, sort, ids), [cage, sort, ids])
  const geometry = useGeometry(places)
  if (!ids.length) return null
  if (sort === 'points')
    return (
      <points geometry={geometry} renderOrder={4}>
        <pointsMaterial color={plum} size={faint ? 7 : 9} sizeAttenuation={false} depthTest={false} transparent />
      </points>
    )
  if (sort === 'edges') return <Bold places={places} opacity={faint ? 0.5 : 1} />
  return (
    <mesh geometry={geometry} renderOrder={3}>
      <meshBasicMaterial
        color={plum}
        transparent
        opacity={faint ? 0.18 : 0.4}
        side={DoubleSide}
        depthTest={false}
        depthWrite={false}
      />
    </mesh>
  )
}

/** What the pull comes to so far, beside the middle of what is picked. */
export function CageFlat() {
  const tool = useTool((s) => s.tool)
  const cage = useCage((s) => s.cage)
  useCage((s) => s.picked)
  const pulling = useCage((s) => s.pulling)
  const last = editsOf(tool).at(-1)
  const [h] = handlesNow()
  if (!cage || !h || !last || !pulling) return null
  const text =
    last.do === 'move' || (last.do === 'extrude' && last.by)
      ? `${num(Math.hypot(...last.by!), 3)} mm`
      : last.do === 'turn'
        ? `${num(last.angle, 1)}°`
        : null
  return text ? (
    <Label at={h.at} className="chip picked beside">
      <b className="figure">{text}</b>
    </Label>
  ) : null
}

/** Lines of a width that is seen, which plain lines have not. */
function Bold({ places, opacity }: { places: Float32Array; opacity: number }) {
  const material = useMemo(
    () => new LineMaterial({ linewidth: 3.5, color: plum, depthTest: false, transparent: true }),
    [],
  )
  // How many lines there are is fixed with the geometry.
  const lines = useMemo(() => {
    const made = new LineSegments2(new LineSegmentsGeometry().setPositions(places), material)
    made.renderOrder = 4
    return made
  }, [places, material])
  material.opacity = opacity
  useEffect(() => () => lines.geometry.dispose(), [lines])
  useEffect(() => () => material.dispose(), [material])
  return <primitive object={lines} />
}
