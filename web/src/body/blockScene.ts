// A piece in space: each part lofted from its rings, turned, pulled apart, taken off and sawn. Loaded only where it is
// shown. All sizes in millimetres: x across, y up, z along the axis, the first end nearest.
import {
  AmbientLight,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineLoop,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  PerspectiveCamera,
  Plane,
  Raycaster,
  Scene,
  Shape,
  ShapeGeometry,
  ShapeUtils,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three'
import type { S } from '../api/client'

export interface Look {
  /** CSS colours: of a part, of the ground, and of what is picked. */
  part: (id: string) => string
  ground: string
  picked: string
  ink: string
}
export interface Block {
  /** Draws it as it now stands. */
  show: (state: BlockState) => void
  turn: (yaw: number, pitch: number) => void
  zoom: (by: number) => void
  /** Which part lies under a point of the canvas, from −1 to 1 across and up. */
  at: (x: number, y: number) => string | undefined
  size: (width: number, height: number) => void
  look: (look: Look) => void
  frames: () => number
  end: () => void
}
export interface BlockState {
  /** From 0, together, to 1. */
  apart: number
  gone: ReadonlySet<string>
  picked?: string
  /** Where it is sawn; what lies before that is off. 0 leaves it whole. */
  sawMm: number
  /** While it moves it is drawn coarser. */
  coarse: boolean
}
interface Part {
  id: string
  edges: LineLoop[]
  mesh: Mesh<BufferGeometry, MeshLambertMaterial>
  fine: BufferGeometry
  coarse: BufferGeometry
  away: Vector3
  tube: S['BlockTube']
  mirrored: boolean
}

/** A surface through rings of as many points each, closed at both ends; every so many rings and points of it. */
function loft(tube: S['BlockTube'], length: number, plane: number, mirrored: boolean, every: number): BufferGeometry {
  const points = tube.rings[0]!.length / 2
  const rings = tube.rings.map((_, i) => i).filter((i) => i % every === 0 || i === tube.rings.length - 1)
  const around = Array.from({ length: points }, (_, k) => k).filter((k) => k % every === 0)
  const n = around.length
  const xyz: number[] = []
  const faces: number[] = []
  const side = mirrored ? -1 : 1
  for (const i of rings)
    for (const k of around)
      xyz.push(side * (tube.rings[i]![2 * k]! / 10 + plane), tube.rings[i]![2 * k + 1]! / 10, length / 2 - tube.mm[i]!)
  for (let r = 0; r + 1 < rings.length; r++)
    for (let k = 0; k < n; k++) {
      const [a, b] = [r * n + k, r * n + ((k + 1) % n)]
      const [c, d] = [a + n, b + n]
      if (mirrored) faces.push(a, b, c, b, d, c)
      else faces.push(a, c, b, b, c, d)
    }
  for (const [r, turned] of [
    [0, mirrored],
    [rings.length - 1, !mirrored],
  ] as const) {
    // an end has corners of its own, so that its edge is sharp
    const start = xyz.length / 3
    const flat: Vector2[] = []
    for (let k = 0; k < n; k++) {
      const [x, y, z] = xyz.slice(3 * (r * n + k)) as [number, number, number]
      xyz.push(x, y, z)
      flat.push(new Vector2(x, y))
    }
    // a ring need not be convex: the fat under the rim is a crescent
    for (const [a, b, c] of ShapeUtils.triangulateShape(flat, []) as [number, number, number][]) {
      if (turned) faces.push(start + a, start + c, start + b)
      else faces.push(start + a, start + b, start + c)
    }
  }
  const g = new BufferGeometry()
  g.setAttribute('position', new BufferAttribute(new Float32Array(xyz), 3))
  g.setIndex(faces)
  g.computeVertexNormals()
  return g
}

/** The edge of a ring, drawn like the line of a drawing. */
function edge(ring: Vector2[], z: number, ink: LineBasicMaterial): LineLoop {
  return new LineLoop(new BufferGeometry().setFromPoints(ring.map((q) => new Vector3(q.x, q.y, z))), ink)
}

/** A ring as it is given, in tenths of a millimetre, at its place. */
const flatRing = (p: Part, ring: number[], plane: number) =>
  Array.from(
    { length: ring.length / 2 },
    (_, k) => new Vector2((p.mirrored ? -1 : 1) * (ring[2 * k]! / 10 + plane), ring[2 * k + 1]! / 10),
  )

/** The ring of a part at a millimetre of the axis, between the two of the tube that lie about it. */
function ringAt(p: Part, mm: number, plane: number): Vector2[] | undefined {
  const { mm: at, rings } = p.tube
  const i = at.findIndex((m) => m >= mm)
  if (i < 1) return undefined
  const t = at[i]! > at[i - 1]! ? (mm - at[i - 1]!) / (at[i]! - at[i - 1]!) : 0
  const before = flatRing(p, rings[i - 1]!, plane)
  return flatRing(p, rings[i]!, plane).map((q, k) => before[k]!.clone().lerp(q, t))
}

/** Sets a block up on a canvas; undefined where the browser draws nothing in space. */
export function setUp(canvas: HTMLCanvasElement, b: S['Block3D'], first: Look): Block | undefined {
  let renderer: WebGLRenderer
  try {
    renderer = new WebGLRenderer({ canvas, antialias: true })
  } catch {
    return undefined
  }
  renderer.localClippingEnabled = true
  renderer.setPixelRatio(Math.min(2, window.devicePixelRatio))
  const scene = new Scene()
  const camera = new PerspectiveCamera(28, 1, 10, 6000)
  const turned = new Group()
  const whole = new Group() // what is left of it lies about the middle
  turned.add(whole)
  scene.add(turned, new AmbientLight(0xffffff, 1.9))
  const lamp = new DirectionalLight(0xffffff, 1.7)
  lamp.position.set(-400, 700, 900)
  scene.add(lamp)
  let [yaw, pitch, far, look, frames] = [-0.65, 0.42, 1, first, 0]

  const saw = new Plane(new Vector3(0, 0, -1), b.length_mm)
  const xs = b.tubes.flatMap((t) => t.rings.flatMap((r) => r.filter((_, i) => i % 2 === 0)))
  /** Of two mirrored halves the plane between them is the left edge of the one that is given. */
  const plane = b.half ? -Math.min(...xs) / 10 : 0
  const parts: Part[] = []
  for (const tube of b.tubes)
    for (const mirrored of b.half ? [false, true] : [false]) {
      const fine = loft(tube, b.length_mm, plane, mirrored, 1)
      fine.computeBoundingBox()
      const away = fine.boundingBox!.getCenter(new Vector3())
      const mesh = new Mesh(fine, new MeshLambertMaterial({ side: DoubleSide, clippingPlanes: [saw] }))
      parts.push({
        id: tube.part,
        mesh,
        fine,
        coarse: loft(tube, b.length_mm, plane, mirrored, 2),
        away,
        tube,
        mirrored,
        edges: [],
      })
      whole.add(mesh)
    }
  const ink = new LineBasicMaterial({ color: look.ink, clippingPlanes: [saw] })
  for (const p of parts)
    for (const i of [0, p.tube.mm.length - 1]) {
      const z = b.length_mm / 2 - p.tube.mm[i]!
      p.edges.push(edge(flatRing(p, p.tube.rings[i]!, plane), z + (i ? -0.3 : 0.3), ink))
    }
  for (const p of parts) whole.add(...p.edges)
  const radius = Math.max(b.length_mm, ...xs.map((x) => Math.abs(x) / 5)) / 2
  const faces = new Group()
  whole.add(faces)
  let state: BlockState = { apart: 0, gone: new Set(), sawMm: 0, coarse: false }

  /** Each part moves outward from the middle of the piece, along its own direction. */
  const offset = (p: Part) => {
    const v = p.away.clone()
    v.z *= state.sawMm > 0 ? 0 : 0.35
    if (v.length() < 1) v.set(0, 1, 0)
    return v.normalize().multiplyScalar(state.apart * radius * 0.75)
  }
  const faceInk = new LineBasicMaterial({ color: look.ink })
  function face() {
    for (const m of faces.children as Mesh<BufferGeometry, MeshBasicMaterial>[]) {
      m.geometry.dispose()
      if (m.material !== (faceInk as unknown)) m.material.dispose()
    }
    faces.clear()
    if (state.sawMm <= 0) return
    for (const p of parts.filter((x) => !state.gone.has(x.id))) {
      const ring = ringAt(p, state.sawMm, plane)
      if (!ring) continue
      const m = new Mesh(
        new ShapeGeometry(new Shape(ring)),
        new MeshBasicMaterial({ color: new Color(look.part(p.id)), side: DoubleSide }),
      )
      const line = edge(ring, 0.3, faceInk)
      for (const x of [m, line]) {
        x.position.copy(offset(p))
        x.position.z += b.length_mm / 2 - state.sawMm + 0.2
        faces.add(x)
      }
    }
  }
  function draw() {
    for (const p of parts) {
      p.mesh.visible = !state.gone.has(p.id)
      p.mesh.geometry = state.coarse ? p.coarse : p.fine
      p.mesh.position.copy(offset(p))
      for (const e of p.edges) {
        e.visible = p.mesh.visible
        e.position.copy(p.mesh.position)
      }
      p.mesh.material.color.set(look.part(p.id))
      p.mesh.material.emissive.set(p.id === state.picked ? look.picked : '#000000')
      p.mesh.material.emissiveIntensity = p.id === state.picked ? 0.35 : 0
    }
    saw.constant = state.sawMm > 0 ? (b.length_mm - state.sawMm) / 2 : b.length_mm * 2
    whole.position.z = state.sawMm / 2
    turned.rotation.set(pitch, yaw, 0)
    turned.updateMatrixWorld()
    saw.normal.set(0, 0, -1).transformDirection(turned.matrixWorld)
    const distance = (radius * (1.02 + 0.55 * state.apart)) / Math.tan((camera.fov * Math.PI) / 360) / far
    camera.position.set(0, 0, distance / Math.min(1, camera.aspect))
    camera.updateProjectionMatrix()
    renderer.setClearColor(new Color(look.ground))
    renderer.render(scene, camera)
    frames++
  }
  return {
    show(next) {
      state = next
      face()
      draw()
    },
    turn(x, y) {
      yaw += x
      pitch = Math.max(-1.5, Math.min(1.5, pitch + y))
      draw()
    },
    zoom(by) {
      far = Math.max(0.5, Math.min(4, far * by))
      draw()
    },
    at(x, y) {
      const ray = new Raycaster()
      ray.setFromCamera(new Vector2(x, y), camera)
      const hit = ray.intersectObjects(parts.filter((p) => p.mesh.visible).map((p) => p.mesh)).find((h) => {
        return saw.distanceToPoint(h.point) >= -0.5
      })
      return parts.find((p) => p.mesh === hit?.object)?.id
    },
    size(width, height) {
      renderer.setSize(width, height, false)
      camera.aspect = width / height
      draw()
    },
    look(next) {
      look = next
      ink.color.set(look.ink)
      faceInk.color.set(look.ink)
      face()
      draw()
    },
    frames: () => frames,
    end() {
      for (const p of parts) {
        p.fine.dispose()
        p.coarse.dispose()
        p.mesh.material.dispose()
        for (const e of p.edges) e.geometry.dispose()
      }
      ink.dispose()
      faceInk.dispose()
      renderer.dispose()
    },
  }
}
