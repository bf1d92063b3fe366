// src/core/math/vec.ts
var add = (a, b) => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
var sub = (a, b) => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
var scale = (a, s) => [a[0] * s, a[1] * s, a[2] * s];
var addScaled = (a, b, s) => [a[0] + b[0] * s, a[1] + b[1] * s, a[2] + b[2] * s];
var dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
var cross = (a, b) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0]
];
var length = (a) => Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
var distance = (a, b) => Math.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2);
function normalize(a) {
  const l = length(a);
  return l > 0 ? scale(a, 1 / l) : [0, 0, 0];
}
function perpendicular(n) {
  const ax = Math.abs(n[0]), ay = Math.abs(n[1]), az = Math.abs(n[2]);
  const pick = ax <= ay && ax <= az ? [1, 0, 0] : ay <= az ? [0, 1, 0] : [0, 0, 1];
  return normalize(cross(n, pick));
}
function frame(n) {
  const x = perpendicular(n);
  return [x, cross(n, x), n];
}

// src/core/kernels/manifold.ts
import loadManifold from "manifold-3d";

// src/core/mesh/tri-mesh.ts
var vertexCount = (m) => m.positions.length / 3;
var triangleCount = (m) => m.triangles.length / 3;
var placeAt = (p, v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
var vertex = (m, v) => placeAt(m.positions, v);
var corners = (m, t) => [
  vertex(m, m.triangles[3 * t]),
  vertex(m, m.triangles[3 * t + 1]),
  vertex(m, m.triangles[3 * t + 2])
];
function finiteBounds(p) {
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++)
    if (Number.isFinite(p[i])) {
      min[i % 3] = Math.min(min[i % 3], p[i]);
      max[i % 3] = Math.max(max[i % 3], p[i]);
    }
  return [0, 1, 2].every((k) => min[k] <= max[k]) ? { min, max } : { min: [0, 0, 0], max: [0, 0, 0] };
}
function meshBounds({ positions: p, triangles }) {
  let x0 = Infinity, y0 = Infinity, z0 = Infinity, x1 = -Infinity, y1 = -Infinity, z1 = -Infinity;
  const n = triangles.length || p.length / 3;
  const used = triangles.length > 0;
  for (let i = 0; i < n; i++) {
    const o = used ? 3 * triangles[i] : 3 * i;
    const x = p[o], y = p[o + 1], z = p[o + 2];
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  if (![x0, y0, z0, x1, y1, z1].every(Number.isFinite)) return finiteBounds(p);
  return { min: [x0, y0, z0], max: [x1, y1, z1] };
}
var boundsSize = ({ min, max }) => [max[0] - min[0], max[1] - min[1], max[2] - min[2]];
var diagonal = (b) => Math.hypot(...boundsSize(b));
function crossOf(m, t) {
  crossInto(m.positions, m.triangles, t, scratch);
  return [scratch[0], scratch[1], scratch[2]];
}
function crossInto(p, k, t, out) {
  const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
  const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
  return Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]);
}
var scratch = new Float64Array(3);
var triangleArea = (m, t) => crossInto(m.positions, m.triangles, t, scratch) / 2;
function triangleNormals(m) {
  const n = triangleCount(m);
  const out = new Float32Array(3 * n);
  for (let t = 0; t < n; t++) {
    const c = crossOf(m, t);
    const l = Math.hypot(c[0], c[1], c[2]);
    if (l > 0) {
      out[3 * t] = c[0] / l;
      out[3 * t + 1] = c[1] / l;
      out[3 * t + 2] = c[2] / l;
    }
  }
  return out;
}
function meshArea(m) {
  let s = 0;
  for (let t = 0; t < triangleCount(m); t++) s += triangleArea(m, t);
  return s;
}
function meshVolume(m, triangles = m.triangles) {
  if (!triangles.length) return 0;
  const p = m.positions;
  const cx = p[3 * triangles[0]], cy = p[3 * triangles[0] + 1], cz = p[3 * triangles[0] + 2];
  let s = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i], b = 3 * triangles[i + 1], c = 3 * triangles[i + 2];
    const ax = p[a] - cx, ay = p[a + 1] - cy, az = p[a + 2] - cz;
    const bx = p[b] - cx, by = p[b + 1] - cy, bz = p[b + 2] - cz;
    const dx = p[c] - cx, dy = p[c + 1] - cy, dz = p[c + 2] - cz;
    s += ax * (by * dz - bz * dy) + ay * (bz * dx - bx * dz) + az * (bx * dy - by * dx);
  }
  return s / 6;
}
function flipTriangles(triangles) {
  const out = new Uint32Array(triangles);
  for (let i = 0; i < out.length; i += 3) {
    const b = out[i + 1];
    out[i + 1] = out[i + 2];
    out[i + 2] = b;
  }
  return out;
}
function keepTriangles(m, keep) {
  const n = triangleCount(m);
  const used = new Uint8Array(vertexCount(m));
  let count = 0;
  for (let t = 0; t < n; t++) {
    if (!keep[t]) continue;
    count++;
    used[m.triangles[3 * t]] = used[m.triangles[3 * t + 1]] = used[m.triangles[3 * t + 2]] = 1;
  }
  const to = new Int32Array(used.length);
  let next = 0;
  for (let v = 0; v < used.length; v++) to[v] = used[v] ? next++ : -1;
  const positions = new Float32Array(3 * next);
  for (let v = 0; v < used.length; v++) {
    if (to[v] >= 0) positions.set(m.positions.subarray(3 * v, 3 * v + 3), 3 * to[v]);
  }
  const triangles = new Uint32Array(3 * count);
  const triangleFrom = new Uint32Array(count);
  let o = 0;
  for (let t = 0; t < n; t++) {
    if (!keep[t]) continue;
    triangleFrom[o / 3] = t;
    for (let c = 0; c < 3; c++) triangles[o++] = to[m.triangles[3 * t + c]];
  }
  return { mesh: { positions, triangles }, triangleFrom };
}
var compact = (m) => keepTriangles(m, new Uint8Array(triangleCount(m)).fill(1)).mesh;
function concatMeshes(meshes) {
  const positions = new Float32Array(meshes.reduce((s, m) => s + m.positions.length, 0));
  const triangles = new Uint32Array(meshes.reduce((s, m) => s + m.triangles.length, 0));
  let p = 0, k = 0;
  for (const m of meshes) {
    positions.set(m.positions, p);
    for (let i = 0; i < m.triangles.length; i++) triangles[k + i] = m.triangles[i] + p / 3;
    p += m.positions.length;
    k += m.triangles.length;
  }
  return { positions, triangles };
}
var meshFrom = (positions, triangles) => ({
  positions: Float32Array.from(positions),
  triangles: Uint32Array.from(triangles)
});

// src/core/base/step-error.ts
var StepError = class extends Error {
  constructor(code, message, details = {}) {
    super(message);
    this.code = code;
    this.details = details;
    this.name = "StepError";
  }
  code;
  details;
};
var Stopped = class extends Error {
  constructor() {
    super("Stopped.");
    this.name = "Stopped";
  }
};

// src/core/mesh/edge-key.ts
var span = 67108864;
var edgeKey = (a, b) => a < b ? a * span + b : b * span + a;

// src/core/mesh/topology.ts
var open = -1;
var shared = -2;
var nextIn = (h) => h % 3 === 2 ? h - 2 : h + 1;
var prevIn = (h) => h % 3 === 0 ? h + 2 : h - 1;
var triangleOf = (h) => h / 3 | 0;
var taken = 4294967295;
function buildTopology(mesh2) {
  const tri = mesh2.triangles;
  const half = tri.length;
  const start = new Uint32Array(vertexCount(mesh2) + 1);
  for (let t = 0; t < half; t += 3) {
    const a = tri[t], b = tri[t + 1], c = tri[t + 2];
    start[(a < b ? a : b) + 1]++;
    start[(b < c ? b : c) + 1]++;
    start[(c < a ? c : a) + 1]++;
  }
  for (let v = 1; v < start.length; v++) start[v] += start[v - 1];
  const fill = start.slice(0, -1);
  const bucket = new Uint32Array(half), other = new Uint32Array(half);
  for (let h = 0; h < half; h++) {
    const a = tri[h], b = tri[h % 3 === 2 ? h - 2 : h + 1];
    const at = fill[a < b ? a : b]++;
    bucket[at] = h;
    other[at] = a < b ? b : a;
  }
  const twin = new Int32Array(half).fill(open);
  const sameWay = new Uint8Array(half);
  const nonManifold = [];
  let edges = 0, openEdges = 0, flippedEdges = 0;
  for (let v = 0; v + 1 < start.length; v++) {
    for (let i = start[v], end = start[v + 1]; i < end; i++) {
      const far2 = other[i];
      if (far2 === taken) continue;
      const h = bucket[i];
      let second = -1, many2 = false;
      for (let j = i + 1; j < end; j++) {
        if (other[j] !== far2) continue;
        const g = bucket[j];
        other[j] = taken;
        if (second < 0) {
          second = g;
          continue;
        }
        if (!many2) {
          many2 = true;
          nonManifold.push(h);
          twin[h] = twin[second] = shared;
        }
        twin[g] = shared;
      }
      edges++;
      if (second < 0) openEdges++;
      else if (!many2) {
        twin[h] = second;
        twin[second] = h;
        if (tri[h] === tri[second]) {
          flippedEdges++;
          sameWay[h] = sameWay[second] = 1;
        }
      }
    }
  }
  return { twin, sameWay, edges, openEdges, nonManifoldEdges: nonManifold.length, flippedEdges, nonManifold };
}
function findPieces(mesh2, topology) {
  const n = mesh2.triangles.length / 3;
  const piece = new Uint32Array(n).fill(4294967295);
  const aside = /* @__PURE__ */ new Map();
  const keyOf = (h) => edgeKey(mesh2.triangles[h], mesh2.triangles[nextIn(h)]);
  if (topology.nonManifoldEdges) {
    for (let h = 0; h < 3 * n; h++) {
      if (topology.twin[h] !== shared) continue;
      const k = keyOf(h);
      const list = aside.get(k);
      if (list) list.push(h);
      else aside.set(k, [h]);
    }
  }
  const stack = [];
  let count = 0;
  for (let s = 0; s < n; s++) {
    if (piece[s] !== 4294967295) continue;
    piece[s] = count;
    stack.push(s);
    while (stack.length) {
      const t = stack.pop();
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h];
        if (w >= 0) {
          const u = triangleOf(w);
          if (piece[u] === 4294967295) {
            piece[u] = count;
            stack.push(u);
          }
        } else if (w === shared) {
          for (const g of aside.get(keyOf(h)) ?? []) {
            const u = triangleOf(g);
            if (piece[u] === 4294967295) {
              piece[u] = count;
              stack.push(u);
            }
          }
        }
      }
    }
    count++;
  }
  return { piece, count };
}
function findRims(mesh2, topology) {
  const { twin } = topology;
  const tri = mesh2.triangles;
  const seen = new Uint8Array(tri.length);
  const rims = [];
  for (let s = 0; s < tri.length; s++) {
    if (twin[s] !== open || seen[s]) continue;
    const halfEdges = [];
    const vertices = [];
    let h = s, v = tri[s];
    let closed = false;
    for (; ; ) {
      seen[h] = 1;
      halfEdges.push(h);
      vertices.push(v);
      const end = tri[h] === v ? tri[nextIn(h)] : tri[h];
      let g = h;
      for (let guard = 0; guard < tri.length; guard++) {
        const a = nextIn(g), b = prevIn(g);
        const e = tri[a] === end || tri[nextIn(a)] === end ? a : b;
        if (twin[e] < 0) {
          g = e;
          break;
        }
        g = twin[e];
      }
      v = end;
      if (g === s || twin[g] !== open) {
        closed = g === s;
        break;
      }
      if (seen[g]) break;
      h = g;
    }
    rims.push({ halfEdges, vertices, closed });
  }
  return rims;
}
function vertexTriangles(mesh2) {
  const tri = mesh2.triangles;
  const start = new Uint32Array(vertexCount(mesh2) + 1);
  for (let i = 0; i < tri.length; i++) start[tri[i] + 1]++;
  for (let v = 1; v < start.length; v++) start[v] += start[v - 1];
  const fill = start.slice(0, -1);
  const list = new Uint32Array(tri.length);
  for (let i = 0; i < tri.length; i++) list[fill[tri[i]]++] = i / 3 | 0;
  return { start, list };
}
function cornerFans(mesh2, topology) {
  const tri = mesh2.triangles;
  const fan = new Uint32Array(tri.length);
  for (let i = 0; i < fan.length; i++) fan[i] = i;
  const find = (i) => {
    while (fan[i] !== i) {
      fan[i] = fan[fan[i]];
      i = fan[i];
    }
    return i;
  };
  const cornerAt = (t, v) => tri[3 * t] === v ? 3 * t : tri[3 * t + 1] === v ? 3 * t + 1 : 3 * t + 2;
  for (let h = 0; h < tri.length; h++) {
    const w = topology.twin[h];
    if (w <= h) continue;
    const t = triangleOf(h), u = triangleOf(w);
    for (const v of [tri[h], tri[nextIn(h)]]) {
      const a = find(cornerAt(t, v)), b = find(cornerAt(u, v));
      if (a !== b) fan[a < b ? b : a] = a < b ? a : b;
    }
  }
  const fansAt = new Uint8Array(vertexCount(mesh2));
  const manyFans = [];
  for (let i = 0; i < tri.length; i++) {
    fan[i] = find(i);
    if (fan[i] === i && fansAt[tri[i]] < 255 && ++fansAt[tri[i]] === 2) manyFans.push(tri[i]);
  }
  return { fan, fansAt, manyFans };
}

// src/core/mesh/defects.ts
var degenerateShare = 1e-7;
var foldDegrees = 20;
function findDegenerate(mesh2) {
  const limit = degenerateShare * diagonal(meshBounds(mesh2));
  const out = [];
  const { positions: p, triangles: k } = mesh2;
  for (let t = 0; t < triangleCount(mesh2); t++) {
    const i = k[3 * t], j = k[3 * t + 1], l = k[3 * t + 2];
    if (i === j || j === l || i === l) {
      out.push(t);
      continue;
    }
    const a = 3 * i, b = 3 * j, c = 3 * l;
    const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
    const wx = vx - ux, wy = vy - uy, wz = vz - uz;
    const nx = uy * vz - uz * vy, ny = uz * vx - ux * vz, nz = ux * vy - uy * vx;
    const longest = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz);
    if (!(Math.sqrt(nx * nx + ny * ny + nz * nz) > limit * Math.sqrt(longest))) out.push(t);
  }
  return out;
}
function findDuplicates(mesh2) {
  const k = mesh2.triangles;
  const n = triangleCount(mesh2);
  let capacity = 16;
  while (capacity < 2 * n) capacity *= 2;
  const table = new Int32Array(capacity).fill(-1);
  const sorted = new Uint32Array(3 * n);
  const out = [];
  for (let t = 0; t < n; t++) {
    let a = k[3 * t], b = k[3 * t + 1], c = k[3 * t + 2];
    if (a > b) [a, b] = [b, a];
    if (b > c) [b, c] = [c, b];
    if (a > b) [a, b] = [b, a];
    sorted[3 * t] = a;
    sorted[3 * t + 1] = b;
    sorted[3 * t + 2] = c;
    let slot = (Math.imul(a, 2654435761) ^ Math.imul(b, 2246822519) ^ Math.imul(c, 3266489917)) >>> 0;
    slot = (slot ^ slot >>> 15) & capacity - 1;
    for (; ; ) {
      const s = table[slot];
      if (s < 0) {
        table[slot] = t;
        break;
      }
      if (sorted[3 * s] === a && sorted[3 * s + 1] === b && sorted[3 * s + 2] === c) {
        out.push(t);
        break;
      }
      slot = slot + 1 & capacity - 1;
    }
  }
  return out;
}
var foldLimit = -Math.cos(foldDegrees * Math.PI / 180);
function findFolded(mesh2, topology, among) {
  const { positions: p, triangles: k } = mesh2;
  const half = topology.twin.length;
  const n = half / 3;
  const normals = among ? null : new Float32Array(half);
  const at = (t, out) => crossInto(p, k, t, out);
  const x = new Float64Array(3), y = new Float64Array(3);
  if (normals)
    for (let t = 0; t < n; t++) {
      at(t, x);
      const l = 1 / (Math.sqrt(x[0] * x[0] + x[1] * x[1] + x[2] * x[2]) || Infinity);
      normals[3 * t] = x[0] * l;
      normals[3 * t + 1] = x[1] * l;
      normals[3 * t + 2] = x[2] * l;
    }
  const folded = /* @__PURE__ */ new Set();
  const beside = [];
  const test = (h, w) => {
    const s = triangleOf(h), t = triangleOf(w);
    let d;
    if (normals)
      d = normals[3 * s] * normals[3 * t] + normals[3 * s + 1] * normals[3 * t + 1] + normals[3 * s + 2] * normals[3 * t + 2];
    else {
      at(s, x);
      at(t, y);
      d = (x[0] * y[0] + x[1] * y[1] + x[2] * y[2]) / (Math.hypot(x[0], x[1], x[2]) * Math.hypot(y[0], y[1], y[2]) || Infinity);
    }
    if ((topology.sameWay[h] ? -d : d) >= foldLimit || !sameSide(mesh2, h, w)) return;
    at(s, x);
    at(t, y);
    const smaller = Math.hypot(x[0], x[1], x[2]) <= Math.hypot(y[0], y[1], y[2]) ? s : t;
    if (folded.has(smaller)) return;
    if (liesBack(mesh2, topology, smaller) || liesBack(mesh2, topology, smaller === s ? t : s)) folded.add(smaller);
    else beside.push(smaller);
  };
  if (among)
    for (let i = 0; i < among.length; i++)
      for (let h = 3 * among[i]; h < 3 * among[i] + 3; h++) {
        if (topology.twin[h] >= 0) test(Math.min(h, topology.twin[h]), Math.max(h, topology.twin[h]));
      }
  else for (let h = 0; h < half; h++) if (topology.twin[h] > h) test(h, topology.twin[h]);
  if (folded.size && beside.length) {
    const corners2 = /* @__PURE__ */ new Set();
    for (const t of folded) for (let c = 0; c < 3; c++) corners2.add(k[3 * t + c]);
    for (const t of beside)
      if (corners2.has(k[3 * t]) || corners2.has(k[3 * t + 1]) || corners2.has(k[3 * t + 2])) folded.add(t);
  }
  return [...folded].sort((s, t) => s - t);
}
var backMost = 40;
var backShare = 0.3;
var earShare = 0.9;
var flatSine = 0.01;
var smoothLimit = Math.cos(60 * Math.PI / 180);
function liesBack(mesh2, topology, start) {
  const { positions: p, triangles: k } = mesh2;
  const { twin, sameWay } = topology;
  const n = new Float64Array(3), m = new Float64Array(3);
  const part = /* @__PURE__ */ new Set([start]);
  let whole = 0, back = 0, open2 = 0, up = false, down = false;
  for (const t of part) {
    const across = crossInto(p, k, t, n) || Infinity;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const a = 3 * k[h], b = 3 * k[nextIn(h)];
      const long = Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]);
      const w = twin[h];
      if (w < 0) {
        whole += long;
        open2 += long;
        continue;
      }
      const u = triangleOf(w);
      if (part.has(u)) continue;
      const l = crossInto(p, k, u, m) || Infinity;
      const turn = (sameWay[h] ? -1 : 1) * (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / (across * l);
      if (turn >= smoothLimit) {
        part.add(u);
        if (part.size > backMost) return false;
        continue;
      }
      whole += long;
      if (turn >= foldLimit || !sameSide(mesh2, h, w)) continue;
      back += long;
      const d = 3 * k[prevIn(w)];
      const v = [p[d] - p[a], p[d + 1] - p[a + 1], p[d + 2] - p[a + 2]];
      const sine = (v[0] * n[0] + v[1] * n[1] + v[2] * n[2]) / (across * (Math.hypot(v[0], v[1], v[2]) || Infinity));
      if (sine > -flatSine) up = true;
      if (sine < flatSine) down = true;
    }
  }
  if (open2 > 0 && back > 0 && open2 + back >= earShare * whole) return true;
  return up && down && back >= backShare * whole;
}
function sameSide(mesh2, h, w) {
  const { positions: p, triangles: k } = mesh2;
  const a = 3 * k[h], b = 3 * k[nextIn(h)], c = 3 * k[prevIn(h)], d = 3 * k[prevIn(w)];
  const e = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const l = e[0] ** 2 + e[1] ** 2 + e[2] ** 2 || 1;
  const off = (o) => {
    const v2 = [p[o] - p[a], p[o + 1] - p[a + 1], p[o + 2] - p[a + 2]];
    const s = (v2[0] * e[0] + v2[1] * e[1] + v2[2] * e[2]) / l;
    return [v2[0] - s * e[0], v2[1] - s * e[1], v2[2] - s * e[2]];
  };
  const u = off(c), v = off(d);
  return u[0] * v[0] + u[1] * v[1] + u[2] * v[2] > 0;
}

// src/core/mesh/polygon-edit.ts
var grown = (n, need) => Math.max(need, n + (n >> 1) + 16);
var PolygonEdit = class _PolygonEdit {
  /** x y z of each vertex; longer than is used. */
  points;
  /** The vertex each half-edge leaves; -1 in dead faces. Face f of a mesh of triangles starts at 3 f. */
  corners;
  /** Faces round each vertex, in no order. */
  around;
  pointCount;
  faceCount;
  /** First half-edge of each face, and the face of each half-edge; null while all faces are triangles. */
  starts = null;
  sizes = null;
  faces = null;
  cornerCount;
  /** Stands for the faces round a vertex that is out of reach. */
  static far = Object.freeze([]);
  /**
   * Triangles to begin with.
   * @param points x y z of each vertex
   * @param near only what lies within three rings of these triangles can be changed; everything when left out
   */
  constructor(points, triangles, near) {
    this.points = Float64Array.from(points);
    this.corners = Int32Array.from(triangles);
    this.pointCount = points.length / 3;
    this.faceCount = triangles.length / 3;
    this.cornerCount = triangles.length;
    this.around = near ? this.zone(near) : Array.from({ length: this.pointCount }, () => []);
    if (!near) for (let i = 0; i < triangles.length; i++) this.around[triangles[i]].push(i / 3 | 0);
  }
  zone(near) {
    const mesh2 = { positions: this.points, triangles: this.corners };
    const { start, list } = vertexTriangles(mesh2);
    let zone = /* @__PURE__ */ new Set();
    for (const t of near) for (let c = 0; c < 3; c++) zone.add(this.corners[3 * t + c]);
    for (let ring = 0; ring < 3; ring++) {
      const wider = new Set(zone);
      for (const v of zone)
        for (let i = start[v]; i < start[v + 1]; i++)
          for (let c = 0; c < 3; c++) wider.add(this.corners[3 * list[i] + c]);
      zone = wider;
    }
    const around = new Array(this.pointCount).fill(_PolygonEdit.far);
    for (const v of zone) around[v] = Array.from(list.subarray(start[v], start[v + 1]));
    return around;
  }
  /** Whether one of the vertices cannot be changed. */
  outOfReach(...v) {
    return v.some((i) => this.around[i] === _PolygonEdit.far);
  }
  startOf(f) {
    return this.starts ? this.starts[f] : 3 * f;
  }
  sizeOf(f) {
    return this.sizes ? this.sizes[f] : 3;
  }
  alive(f) {
    return this.corners[this.startOf(f)] >= 0;
  }
  /** The vertices of a face, in order. */
  loop(f) {
    const s = this.startOf(f);
    const n = this.sizeOf(f);
    const out = new Array(n);
    for (let c = 0; c < n; c++) out[c] = this.corners[s + c];
    return out;
  }
  faceAt(h) {
    return this.faces ? this.faces[h] : h / 3 | 0;
  }
  origin(h) {
    return this.corners[h];
  }
  next(h) {
    const f = this.faceAt(h), s = this.startOf(f);
    return h + 1 < s + this.sizeOf(f) ? h + 1 : s;
  }
  prev(h) {
    const f = this.faceAt(h), s = this.startOf(f);
    return h > s ? h - 1 : s + this.sizeOf(f) - 1;
  }
  /** The half-edge of a face that runs from a to b, or -1. */
  halfOf(f, a, b) {
    const s = this.startOf(f), n = this.sizeOf(f);
    for (let c = 0; c < n; c++)
      if (this.corners[s + c] === a && this.corners[c + 1 < n ? s + c + 1 : s] === b) return s + c;
    return -1;
  }
  /** The half-edge over the same edge the other way; -1 at a rim, -2 where the edge has more than two faces or two that run one way. */
  twin(h) {
    const a = this.corners[h], b = this.corners[this.next(h)];
    let found = -1;
    for (const f of this.around[b]) {
      if (f !== this.faceAt(h) && this.halfOf(f, a, b) >= 0) return -2;
      const w = this.halfOf(f, b, a);
      if (w < 0) continue;
      if (found >= 0) return -2;
      found = w;
    }
    return found;
  }
  has(f, v) {
    const k = this.corners;
    if (!this.sizes) return k[3 * f] === v || k[3 * f + 1] === v || k[3 * f + 2] === v;
    const s = this.startOf(f);
    for (let c = 0; c < this.sizeOf(f); c++) if (k[s + c] === v) return true;
    return false;
  }
  /** Faces that hold both vertices. */
  shared(a, b) {
    return this.around[a].filter((f) => this.has(f, b));
  }
  /** The face with a half-edge from a to b, the latest of several; -1 when there is none. */
  faceFrom(a, b) {
    const list = this.around[a];
    for (let i = list.length - 1; i >= 0; i--) if (this.halfOf(list[i], a, b) >= 0) return list[i];
    return -1;
  }
  /** The corner of a triangle that is neither a nor b, or -1. */
  third(t, a, b) {
    const s = this.startOf(t);
    for (let c = 0; c < 3; c++) {
      const v = this.corners[s + c];
      if (v !== a && v !== b) return v;
    }
    return -1;
  }
  /** Vertices that share a face with v. */
  neighbours(v) {
    const out = /* @__PURE__ */ new Set();
    for (const f of this.around[v]) {
      const s = this.startOf(f);
      for (let c = 0; c < this.sizeOf(f); c++) out.add(this.corners[s + c]);
    }
    out.delete(v);
    return out;
  }
  /** Whether an edge at v has only one face (of triangles). */
  onRim(v) {
    const count = /* @__PURE__ */ new Map();
    for (const f of this.around[v]) {
      const s = this.startOf(f);
      for (let c = 0; c < 3; c++) {
        const u = this.corners[s + c];
        if (u !== v) count.set(u, (count.get(u) ?? 0) + 1);
      }
    }
    for (const n of count.values()) if (n === 1) return true;
    return false;
  }
  square(a, b) {
    const p = this.points;
    return (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2;
  }
  edge(a, b) {
    const p = this.points;
    return Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);
  }
  /** Normal of three vertices, twice their area long. */
  crossOf(a, b, c) {
    const p = this.points;
    const ux = p[3 * b] - p[3 * a], uy = p[3 * b + 1] - p[3 * a + 1], uz = p[3 * b + 2] - p[3 * a + 2];
    const vx = p[3 * c] - p[3 * a], vy = p[3 * c + 1] - p[3 * a + 1], vz = p[3 * c + 2] - p[3 * a + 2];
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  }
  /** Normal of a triangle, twice its area long; as if vertex `moved` were at x y z. */
  cross(t, moved = -1, x = 0, y = 0, z = 0) {
    const k = this.corners, p = this.points;
    const s = this.startOf(t);
    const at = (v, a2) => v === moved ? a2 === 0 ? x : a2 === 1 ? y : z : p[3 * v + a2];
    const a = k[s], b = k[s + 1], c = k[s + 2];
    const ux = at(b, 0) - at(a, 0), uy = at(b, 1) - at(a, 1), uz = at(b, 2) - at(a, 2);
    const vx = at(c, 0) - at(a, 0), vy = at(c, 1) - at(a, 1), vz = at(c, 2) - at(a, 2);
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  }
  addPoint(x, y, z) {
    const v = this.pointCount++;
    if (3 * v + 3 > this.points.length) {
      const more = new Float64Array(grown(this.points.length, 3 * v + 3));
      more.set(this.points);
      this.points = more;
    }
    this.points[3 * v] = x;
    this.points[3 * v + 1] = y;
    this.points[3 * v + 2] = z;
    this.around.push([]);
    return v;
  }
  /** From here on faces may have any number of corners. */
  openUp() {
    if (this.starts) return;
    const n = this.faceCount;
    this.starts = Int32Array.from({ length: n }, (_, f) => 3 * f);
    this.sizes = new Int32Array(n).fill(3);
    this.faces = Int32Array.from({ length: this.corners.length }, (_, h) => h / 3 | 0);
  }
  /** The corners of all triangles, three each; dead ones hold -1. */
  get triangles() {
    return this.corners.subarray(0, this.cornerCount);
  }
  /** A new face; gives its number. */
  addFace(loop) {
    const f = this.room(loop.length);
    this.put(f, loop);
    return f;
  }
  /** Room for a face of so many corners; gives its number. */
  room(size2) {
    if (size2 !== 3) this.openUp();
    const f = this.faceCount++, s = this.cornerCount;
    this.cornerCount += size2;
    if (this.cornerCount > this.corners.length) {
      const more = new Int32Array(grown(this.corners.length, this.cornerCount)).fill(-1);
      more.set(this.corners);
      this.corners = more;
    }
    if (this.starts) {
      const longer = (a, need) => {
        if (need <= a.length) return a;
        const more = new Int32Array(grown(a.length, need));
        more.set(a);
        return more;
      };
      this.starts = longer(this.starts, f + 1);
      this.sizes = longer(this.sizes, f + 1);
      this.faces = longer(this.faces, this.corners.length);
      this.starts[f] = s;
      this.sizes[f] = size2;
      this.faces.fill(f, s, s + size2);
    }
    return f;
  }
  /** Gives a dead face corners again, as many as it has room for. */
  put(f, loop) {
    const s = this.startOf(f);
    for (let c = 0; c < loop.length; c++) {
      this.corners[s + c] = loop[c];
      this.around[loop[c]].push(f);
    }
  }
  kill(f) {
    const s = this.startOf(f);
    for (let c = 0; c < this.sizeOf(f); c++) {
      const list = this.around[this.corners[s + c]];
      const i = list.indexOf(f);
      if (i >= 0) list.splice(i, 1);
      this.corners[s + c] = -1;
    }
  }
  /** Puts vertex b in the place of a in one face. */
  swap(f, a, b) {
    const s = this.startOf(f);
    for (let c = 0; c < this.sizeOf(f); c++) if (this.corners[s + c] === a) this.corners[s + c] = b;
    this.around[b].push(f);
  }
  /** How many vertices a and b have as common neighbours: as many as faces go with their edge, when the skin stays a manifold (link condition, Dey et al. 1999). */
  commonNeighbours(a, b) {
    const nb = this.neighbours(b);
    let common = 0;
    for (const v of this.neighbours(a)) if (nb.has(v)) common++;
    return common;
  }
  /** Pulls vertex a into b: the triangles over their edge go, the others of a come to b. */
  pull(a, b, gone) {
    for (const t of gone) this.kill(t);
    for (const t of this.around[a]) this.swap(t, a, b);
    this.around[a] = [];
  }
  /** The two triangles that stand for s and t after their edge ab is turned; null when the two do not run the same way round. */
  turned(a, b, s, t, c, d) {
    const forward = this.halfOf(s, a, b) >= 0;
    if (forward === this.halfOf(t, a, b) >= 0) return null;
    return forward ? [
      [c, a, d],
      [d, b, c]
    ] : [
      [d, a, c],
      [c, b, d]
    ];
  }
  /** Splits edge ab of triangles at a new vertex m: each of its triangles keeps a, a fresh one has b. */
  splitAt(a, b, m) {
    for (const t of this.shared(a, b)) {
      const fresh = this.room(3);
      const from = this.startOf(t), to = this.startOf(fresh);
      for (let c = 0; c < 3; c++) {
        const v = this.corners[from + c];
        this.corners[to + c] = v === a ? m : v;
        if (v === b) this.corners[from + c] = m;
      }
      this.around[b][this.around[b].indexOf(t)] = fresh;
      this.around[this.third(t, a, m)].push(fresh);
      this.around[m].push(t, fresh);
    }
  }
};

// src/core/mesh/edit-mesh.ts
var EditMesh = class extends PolygonEdit {
  /** @param near only the corners within three rings of these triangles can be changed; all when left out */
  constructor(mesh2, near) {
    super(mesh2.positions, mesh2.triangles, near);
  }
  /**
   * Pulls vertex a into b when the skin stays a manifold (link condition, Dey et al. 1999) and no triangle with area turns over.
   * @returns whether it was done
   */
  collapse(a, b) {
    if (this.outOfReach(a, b)) return false;
    const gone = this.shared(a, b);
    if (!gone.length || gone.length > 2) return false;
    if (this.commonNeighbours(a, b) !== gone.length) return false;
    if (gone.length === 2 && this.onRim(a) && this.onRim(b)) return false;
    if (gone.length === 2) {
      const c = this.third(gone[0], a, b), d = this.third(gone[1], a, b);
      if (c === d) return false;
      const over = (v) => this.around[v].some((t) => this.has(t, c) && this.has(t, d));
      if (over(a) && over(b)) return false;
    }
    if (this.onRim(a) && !this.onRim(b)) return false;
    const p = this.points;
    for (const t of this.around[a]) {
      if (gone.includes(t)) continue;
      const before = this.cross(t);
      const after = this.cross(t, a, p[3 * b], p[3 * b + 1], p[3 * b + 2]);
      if (before[0] * after[0] + before[1] * after[1] + before[2] * after[2] < 0) return false;
    }
    this.pull(a, b, gone);
    return true;
  }
  /** Turns the edge ab of two triangles to join their other corners; refused where that edge exists already or the two do not run the same way round. */
  flip(a, b) {
    const two = this.shared(a, b);
    if (two.length !== 2) return false;
    const [s, t] = two;
    const c = this.third(s, a, b), d = this.third(t, a, b);
    if (c === d || c < 0 || d < 0 || this.outOfReach(a, b, c, d) || this.shared(c, d).length) return false;
    const made = this.turned(a, b, s, t, c, d);
    if (!made) return false;
    this.kill(s);
    this.kill(t);
    this.put(s, made[0]);
    this.put(t, made[1]);
    return true;
  }
  /** The changed mesh, dead triangles and unused vertices dropped, with the old number of each triangle. */
  done() {
    const n = this.faceCount;
    const keep = new Uint8Array(n);
    const triangles = new Uint32Array(3 * n);
    for (let t = 0; t < n; t++) {
      if (!this.alive(t)) continue;
      keep[t] = 1;
      for (let c = 0; c < 3; c++) triangles[3 * t + c] = this.corners[3 * t + c];
    }
    return keepTriangles({ positions: Float32Array.from(this.points), triangles }, keep);
  }
};

// src/core/mend/slivers.ts
function removeDegenerate(input, known) {
  let bad = known ?? findDegenerate(input);
  const before = bad.length;
  let mesh2 = input;
  const repeated = new Uint8Array(triangleCount(mesh2)).fill(1);
  const { triangles: k } = mesh2;
  for (let t = 0; t < repeated.length; t++)
    if (k[3 * t] === k[3 * t + 1] || k[3 * t + 1] === k[3 * t + 2] || k[3 * t] === k[3 * t + 2]) repeated[t] = 0;
  const doubles = known ? [] : findDuplicates(mesh2);
  for (const t of doubles) repeated[t] = 0;
  let from = new Uint32Array(repeated.length);
  for (let t = 0; t < from.length; t++) from[t] = t;
  const take = (k2) => {
    mesh2 = k2.mesh;
    from = k2.triangleFrom.map((t) => from[t]);
  };
  if (repeated.includes(0)) {
    take(keepTriangles(mesh2, repeated));
    bad = findDegenerate(mesh2);
  }
  let left = 0;
  for (let round = 0; round < 6; round++) {
    left = bad.length;
    if (!left) break;
    const edit = new EditMesh(mesh2, bad);
    let changed = 0;
    for (const t of bad) {
      if (!edit.alive(t)) continue;
      const v = [edit.triangles[3 * t], edit.triangles[3 * t + 1], edit.triangles[3 * t + 2]];
      const pairs = [
        [v[0], v[1]],
        [v[1], v[2]],
        [v[2], v[0]]
      ].sort((p, q) => edit.edge(p[0], p[1]) - edit.edge(q[0], q[1]));
      const [shortest, , longest] = pairs;
      const needle = edit.edge(shortest[0], shortest[1]) < 0.1 * edit.edge(longest[0], longest[1]);
      const collapse = () => edit.collapse(shortest[0], shortest[1]) || edit.collapse(shortest[1], shortest[0]);
      const flip = () => edit.flip(longest[0], longest[1]);
      if (needle ? collapse() || flip() : flip() || collapse()) changed++;
    }
    if (!changed) break;
    take(edit.done());
    bad = findDegenerate(mesh2);
    left = bad.length;
  }
  return { mesh: mesh2, degenerate: before - left, duplicates: doubles.length, left, from };
}

// src/core/mesh/closest.ts
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
var MeshSearch = class {
  /** Builds the hierarchy; about 1.4 s for a million triangles. */
  constructor(mesh2) {
    this.mesh = mesh2;
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(mesh2.positions, 3));
    geometry.setIndex(new BufferAttribute(mesh2.triangles, 1));
    this.bvh = new MeshBVH(geometry, { indirect: true });
  }
  mesh;
  bvh;
  ray = new Ray();
  at = new Vector3();
  /** First hit of a ray, or null. `direction` is a unit vector. */
  first(origin, direction) {
    this.ray.origin.set(...origin);
    this.ray.direction.set(...direction);
    const hit = this.bvh.raycastFirst(this.ray, DoubleSide);
    return hit ? { distance: hit.distance, triangle: hit.faceIndex, point: [hit.point.x, hit.point.y, hit.point.z] } : null;
  }
  /** All hits of a ray, near to far. */
  all(origin, direction) {
    this.ray.origin.set(...origin);
    this.ray.direction.set(...direction);
    return this.bvh.raycast(this.ray, DoubleSide).map((h) => ({ distance: h.distance, triangle: h.faceIndex, point: [h.point.x, h.point.y, h.point.z] })).sort((a, b) => a.distance - b.distance);
  }
  /** Nearest point of the mesh within `within` mm, or null. */
  nearest(p, within = Infinity) {
    const found = this.bvh.closestPointToPoint(this.at.set(...p), void 0, 0, within);
    return found ? { distance: found.distance, triangle: found.faceIndex, point: [found.point.x, found.point.y, found.point.z] } : null;
  }
};

// src/core/base/work.ts
var quiet = { progress: () => {
} };
function checkStop(work) {
  if (work.signal?.aborted) throw new Stopped();
}
function span2(work, from, to) {
  return { signal: work.signal, progress: (share, phase) => work.progress(from + (to - from) * share, phase) };
}

// src/core/mesh/in-box.ts
function boxOf({ positions: p, triangles: k }, list) {
  const box2 = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (const t of list)
    for (let c = 0; c < 3; c++) {
      const o = 3 * k[3 * t + c];
      for (let a = 0; a < 3; a++) {
        const v = p[o + a];
        if (v < box2[a]) box2[a] = v;
        if (v > box2[3 + a]) box2[3 + a] = v;
      }
    }
  return box2;
}
function flagInBox(mesh2, box2, room, flags = new Uint8Array(triangleCount(mesh2)), most = flags.length) {
  const { positions: p, triangles: k } = mesh2;
  for (let t = 0; t < most; t++) {
    if (flags[t]) continue;
    let meets = 1;
    for (let a = 0; meets && a < 3; a++) {
      const u = p[3 * k[3 * t] + a], v = p[3 * k[3 * t + 1] + a], w = p[3 * k[3 * t + 2] + a];
      const low = box2[a] - room, high = box2[3 + a] + room;
      if (u < low && v < low && w < low || u > high && v > high && w > high) meets = 0;
    }
    flags[t] = meets;
  }
  return flags;
}

// src/core/mesh/self-crossing.ts
import { orient2d, orient3d } from "robust-predicates";

// src/core/mesh/box-tree.ts
var leafSize = 4;
function spread(x) {
  x = (x | x << 16) & 50331903;
  x = (x | x << 8) & 50393103;
  x = (x | x << 4) & 51130563;
  return (x | x << 2) & 153391689;
}
function mortonOrder(mesh2) {
  const n = triangleCount(mesh2);
  const { min, max } = meshBounds(mesh2);
  const p = mesh2.positions, tri = mesh2.triangles;
  const scale2 = (a) => max[a] > min[a] ? 1023.999 / (3 * (max[a] - min[a])) : 0;
  const kx = scale2(0), ky = scale2(1), kz = scale2(2), ox = 3 * min[0], oy = 3 * min[1], oz = 3 * min[2];
  let keys = new Uint32Array(n), order = new Uint32Array(n);
  let keys2 = new Uint32Array(n), order2 = new Uint32Array(n);
  for (let t = 0; t < n; t++) {
    const a = 3 * tri[3 * t], b = 3 * tri[3 * t + 1], c = 3 * tri[3 * t + 2];
    const x = (p[a] + p[b] + p[c] - ox) * kx;
    const y = (p[a + 1] + p[b + 1] + p[c + 1] - oy) * ky;
    const z = (p[a + 2] + p[b + 2] + p[c + 2] - oz) * kz;
    keys[t] = spread(x & 1023) | spread(y & 1023) << 1 | spread(z & 1023) << 2;
    order[t] = t;
  }
  for (let shift = 0; shift < 30; shift += 10) {
    const count = new Uint32Array(1025);
    for (let t = 0; t < n; t++) count[(keys[t] >>> shift & 1023) + 1]++;
    for (let i = 1; i < 1025; i++) count[i] += count[i - 1];
    for (let t = 0; t < n; t++) {
      const to = count[keys[t] >>> shift & 1023]++;
      keys2[to] = keys[t];
      order2[to] = order[t];
    }
    ;
    [keys, keys2, order, order2] = [keys2, keys, order2, order];
  }
  return order;
}
var halvedTo = 8;
function halve(mesh2, order, leaves) {
  const n = order.length;
  const p = mesh2.positions, tri = mesh2.triangles;
  const mx = new Float32Array(n), my = new Float32Array(n), mz = new Float32Array(n);
  const lo = [Infinity, Infinity, Infinity], hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < n; i++) {
    const t = 3 * order[i];
    const a = 3 * tri[t], b = 3 * tri[t + 1], c = 3 * tri[t + 2];
    const x = p[a] + p[b] + p[c], y = p[a + 1] + p[b + 1] + p[c + 1], z = p[a + 2] + p[b + 2] + p[c + 2];
    mx[i] = x;
    my[i] = y;
    mz[i] = z;
    if (x < lo[0]) lo[0] = x;
    if (x > hi[0]) hi[0] = x;
    if (y < lo[1]) lo[1] = y;
    if (y > hi[1]) hi[1] = y;
    if (z < lo[2]) lo[2] = z;
    if (z > hi[2]) hi[2] = z;
  }
  divide(mx, my, mz, order, 0, n, leaves, lo[0], lo[1], lo[2], hi[0], hi[1], hi[2]);
}
function divide(mx, my, mz, order, from, to, room, x0, y0, z0, x1, y1, z1) {
  if (room < 2 || to - from <= halvedTo) return;
  const middle2 = from + room / 2 * leafSize;
  if (middle2 >= to) return divide(mx, my, mz, order, from, to, room / 2, x0, y0, z0, x1, y1, z1);
  const dx = x1 - x0, dy = y1 - y0, dz = z1 - z0;
  if (dx >= dy && dx >= dz) {
    select(mx, my, mz, order, from, to - 1, middle2);
    const cut = mx[middle2];
    divide(mx, my, mz, order, from, middle2, room / 2, x0, y0, z0, cut, y1, z1);
    divide(mx, my, mz, order, middle2, to, room / 2, cut, y0, z0, x1, y1, z1);
  } else if (dy >= dz) {
    select(my, mx, mz, order, from, to - 1, middle2);
    const cut = my[middle2];
    divide(mx, my, mz, order, from, middle2, room / 2, x0, y0, z0, x1, cut, z1);
    divide(mx, my, mz, order, middle2, to, room / 2, x0, cut, z0, x1, y1, z1);
  } else {
    select(mz, mx, my, order, from, to - 1, middle2);
    const cut = mz[middle2];
    divide(mx, my, mz, order, from, middle2, room / 2, x0, y0, z0, x1, y1, cut);
    divide(mx, my, mz, order, middle2, to, room / 2, x0, y0, cut, x1, y1, z1);
  }
}
function select(key, other, third, order, lo, hi, middle2) {
  while (lo < hi) {
    const pivot = key[lo + hi >> 1];
    let i = lo - 1, j = hi + 1;
    for (; ; ) {
      do
        i++;
      while (key[i] < pivot);
      do
        j--;
      while (key[j] > pivot);
      if (i >= j) break;
      let f = key[i];
      key[i] = key[j];
      key[j] = f;
      f = other[i];
      other[i] = other[j];
      other[j] = f;
      f = third[i];
      third[i] = third[j];
      third[j] = f;
      const o = order[i];
      order[i] = order[j];
      order[j] = o;
    }
    if (middle2 <= j) hi = j;
    else lo = j + 1;
  }
}
function buildBoxTree(mesh2) {
  const n = triangleCount(mesh2);
  const order = mortonOrder(mesh2);
  let leaves = 1;
  while (leaves * leafSize < n) leaves *= 2;
  halve(mesh2, order, leaves);
  const boxes = new Float32Array(6 * (2 * leaves - 1));
  const p = mesh2.positions, tri = mesh2.triangles;
  const first = leaves - 1;
  for (let l = 0; l < leaves; l++) {
    const o = 6 * (first + l);
    let x0 = Infinity, y0 = Infinity, z0 = Infinity, x1 = -Infinity, y1 = -Infinity, z1 = -Infinity;
    for (let i = l * leafSize; i < Math.min(n, (l + 1) * leafSize); i++) {
      for (let c = 0; c < 3; c++) {
        const v = 3 * tri[3 * order[i] + c];
        const x = p[v], y = p[v + 1], z = p[v + 2];
        if (x < x0) x0 = x;
        if (x > x1) x1 = x;
        if (y < y0) y0 = y;
        if (y > y1) y1 = y;
        if (z < z0) z0 = z;
        if (z > z1) z1 = z;
      }
    }
    boxes[o] = x0;
    boxes[o + 1] = y0;
    boxes[o + 2] = z0;
    boxes[o + 3] = x1;
    boxes[o + 4] = y1;
    boxes[o + 5] = z1;
  }
  for (let i = first - 1; i >= 0; i--) {
    const o = 6 * i, l = 6 * (2 * i + 1), r2 = l + 6;
    for (let a = 0; a < 3; a++) {
      boxes[o + a] = Math.min(boxes[l + a], boxes[r2 + a]);
      boxes[o + 3 + a] = Math.max(boxes[l + 3 + a], boxes[r2 + 3 + a]);
    }
  }
  return { order, boxes, leaves };
}
function visitPairsFrom(mesh2, tree, first, visit) {
  const { order, boxes, leaves } = tree;
  const { positions: p, triangles: tri } = mesh2;
  const firstLeaf = leaves - 1;
  const stack = new Int32Array(256);
  for (let t = first; t < order.length; t++) {
    const a = 3 * tri[3 * t], b = 3 * tri[3 * t + 1], c = 3 * tri[3 * t + 2];
    const x0 = Math.min(p[a], p[b], p[c]), y0 = Math.min(p[a + 1], p[b + 1], p[c + 1]), z0 = Math.min(p[a + 2], p[b + 2], p[c + 2]);
    const x1 = Math.max(p[a], p[b], p[c]), y1 = Math.max(p[a + 1], p[b + 1], p[c + 1]), z1 = Math.max(p[a + 2], p[b + 2], p[c + 2]);
    let top = 0;
    stack[top++] = 0;
    while (top) {
      const node = stack[--top];
      const o = 6 * node;
      if (boxes[o] > x1 || boxes[o + 3] < x0 || boxes[o + 1] > y1 || boxes[o + 4] < y0 || boxes[o + 2] > z1 || boxes[o + 5] < z0)
        continue;
      if (node < firstLeaf) {
        stack[top++] = 2 * node + 1;
        stack[top++] = 2 * node + 2;
        continue;
      }
      const from = (node - firstLeaf) * leafSize, end = Math.min(order.length, from + leafSize);
      for (let i = from; i < end; i++) {
        const s = order[i];
        if (s === t || s >= first && s < t) continue;
        const d = 3 * tri[3 * s], e = 3 * tri[3 * s + 1], f = 3 * tri[3 * s + 2];
        if (Math.min(p[d], p[e], p[f]) > x1 || Math.max(p[d], p[e], p[f]) < x0 || Math.min(p[d + 1], p[e + 1], p[f + 1]) > y1 || Math.max(p[d + 1], p[e + 1], p[f + 1]) < y0 || Math.min(p[d + 2], p[e + 2], p[f + 2]) > z1 || Math.max(p[d + 2], p[e + 2], p[f + 2]) < z0)
          continue;
        visit(s, t);
      }
    }
  }
}
function meetings(mesh2, order) {
  const { positions: p, triangles } = mesh2;
  const n = order.length;
  const low = new Float32Array(3 * n), high = new Float32Array(3 * n);
  for (let i = 0; i < n; i++) {
    const a = 3 * triangles[3 * order[i]], b = 3 * triangles[3 * order[i] + 1], c = 3 * triangles[3 * order[i] + 2];
    for (let k = 0; k < 3; k++) {
      low[3 * i + k] = Math.min(p[a + k], p[b + k], p[c + k]);
      high[3 * i + k] = Math.max(p[a + k], p[b + k], p[c + k]);
    }
  }
  return (i, j) => low[3 * i] <= high[3 * j] && low[3 * j] <= high[3 * i] && low[3 * i + 1] <= high[3 * j + 1] && low[3 * j + 1] <= high[3 * i + 1] && low[3 * i + 2] <= high[3 * j + 2] && low[3 * j + 2] <= high[3 * i + 2];
}
function visitSelfPairs(mesh2, tree, visit, tick) {
  const { order, boxes, leaves } = tree;
  const n = order.length;
  const first = leaves - 1;
  const meet2 = meetings(mesh2, order);
  const stack = new Int32Array(256);
  for (let l = 0; l < leaves; l++) {
    const from = l * leafSize, to = Math.min(n, from + leafSize);
    if (from >= to) break;
    if (tick && (l & 1023) === 0) tick(l / leaves);
    for (let i = from; i < to; i++) for (let j = i + 1; j < to; j++) if (meet2(i, j) && visit(order[i], order[j])) return;
    const q = 6 * (first + l);
    const ax = boxes[q], ay = boxes[q + 1], az = boxes[q + 2], bx = boxes[q + 3], by = boxes[q + 4], bz = boxes[q + 5];
    let top = 0;
    stack[top++] = 0;
    while (top) {
      const node = stack[--top];
      const o = 6 * node;
      if (boxes[o] > bx || boxes[o + 3] < ax || boxes[o + 1] > by || boxes[o + 4] < ay || boxes[o + 2] > bz || boxes[o + 5] < az)
        continue;
      if (node >= first) {
        const m = node - first;
        if (m <= l) continue;
        const end = Math.min(n, (m + 1) * leafSize);
        for (let j = m * leafSize; j < end; j++)
          for (let i = from; i < to; i++) if (meet2(i, j) && visit(order[i], order[j])) return;
      } else {
        let lastLeaf = 2 * node + 2;
        while (lastLeaf < first) lastLeaf = 2 * lastLeaf + 2;
        if (lastLeaf - first <= l) continue;
        stack[top++] = 2 * node + 2;
        stack[top++] = 2 * node + 1;
      }
    }
  }
}

// src/core/mesh/self-crossing.ts
var contactShare = 2e-7;
var orient = (p, a, b, c, d) => orient3d(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], p[d], p[d + 1], p[d + 2]);
function segmentThrough(p, a, b, c, d, e) {
  const sd = orient(p, a, b, c, d), se = orient(p, a, b, c, e);
  if (sd > 0 && se > 0 || sd < 0 && se < 0 || sd === 0 || se === 0) return false;
  const s1 = orient(p, d, e, a, b), s2 = orient(p, d, e, b, c), s3 = orient(p, d, e, c, a);
  return s1 >= 0 && s2 >= 0 && s3 >= 0 || s1 <= 0 && s2 <= 0 && s3 <= 0;
}
function coplanarOverlap(p, s, t, normal) {
  const ax = Math.abs(normal[0]), ay = Math.abs(normal[1]), az = Math.abs(normal[2]);
  const [i, j] = ax >= ay && ax >= az ? [1, 2] : ay >= az ? [2, 0] : [0, 1];
  const side2 = (a, b, c) => orient2d(p[a + i], p[a + j], p[b + i], p[b + j], p[c + i], p[c + j]);
  const separated = (u, v) => {
    const turn = Math.sign(side2(u[0], u[1], u[2]));
    if (turn === 0) return true;
    for (let k = 0; k < 3; k++) {
      const a = u[k], b = u[(k + 1) % 3];
      if (v.every((c) => side2(a, b, c) * turn <= 0)) return true;
    }
    return false;
  };
  return !separated(s, t) && !separated(t, s);
}
function depth(p, s, t, ns, nt) {
  const poke = (n, o, other) => {
    const l = Math.hypot(n[0], n[1], n[2]);
    if (l === 0) return 0;
    let lo = 0, hi = 0;
    for (const v of other) {
      const d = ((p[v] - p[o]) * n[0] + (p[v + 1] - p[o + 1]) * n[1] + (p[v + 2] - p[o + 2]) * n[2]) / l;
      if (d < lo) lo = d;
      if (d > hi) hi = d;
    }
    return Math.min(-lo, hi);
  };
  return Math.min(poke(ns, s[0], t), poke(nt, t[0], s));
}
function trianglesCross(mesh2, s, t, contact) {
  const k = mesh2.triangles;
  const a0 = k[3 * s], a1 = k[3 * s + 1], a2 = k[3 * s + 2], b0 = k[3 * t], b1 = k[3 * t + 1], b2 = k[3 * t + 2];
  const in0 = a0 === b0 || a0 === b1 || a0 === b2, in1 = a1 === b0 || a1 === b1 || a1 === b2, in2 = a2 === b0 || a2 === b1 || a2 === b2;
  if (in0 && in1 || in0 && in2 || in1 && in2) return false;
  if (!in0 && !in1 && !in2) return strangersCross(mesh2, s, t, contact);
  const shared2 = in0 ? a0 : in1 ? a1 : a2;
  const one = turnedTo(k, s, shared2), other = turnedTo(k, t, shared2);
  return cornersCross(mesh2, one, other) && depth(mesh2.positions, one, other, crossOf(mesh2, s), crossOf(mesh2, t)) > contact;
}
function turnedTo(k, t, first) {
  const [a, b, c] = [k[3 * t], k[3 * t + 1], k[3 * t + 2]];
  return a === first ? [3 * a, 3 * b, 3 * c] : b === first ? [3 * b, 3 * c, 3 * a] : [3 * c, 3 * a, 3 * b];
}
function cornersCross({ positions: p }, s, t) {
  return segmentThrough(p, t[0], t[1], t[2], s[1], s[2]) || segmentThrough(p, s[0], s[1], s[2], t[1], t[2]);
}
function strangersCross(mesh2, s, t, contact) {
  const { positions: p, triangles: k } = mesh2;
  const a0 = 3 * k[3 * s], a1 = 3 * k[3 * s + 1], a2 = 3 * k[3 * s + 2], b0 = 3 * k[3 * t], b1 = 3 * k[3 * t + 1], b2 = 3 * k[3 * t + 2];
  const s0 = orient(p, b0, b1, b2, a0), s1 = orient(p, b0, b1, b2, a1), s2 = orient(p, b0, b1, b2, a2);
  if (s0 > 0 && s1 > 0 && s2 > 0 || s0 < 0 && s1 < 0 && s2 < 0) return false;
  if (s0 === 0 && s1 === 0 && s2 === 0) return coplanarOverlap(p, [a0, a1, a2], [b0, b1, b2], crossOf(mesh2, s));
  const through = segmentThrough(p, b0, b1, b2, a0, a1) || segmentThrough(p, a0, a1, a2, b0, b1) || segmentThrough(p, b0, b1, b2, a1, a2) || segmentThrough(p, a0, a1, a2, b1, b2) || segmentThrough(p, b0, b1, b2, a2, a0) || segmentThrough(p, a0, a1, a2, b2, b0);
  return through && depth(p, [a0, a1, a2], [b0, b1, b2], crossOf(mesh2, s), crossOf(mesh2, t)) > contact;
}
function apartTest({ positions: p, triangles: k }) {
  const n = k.length / 3;
  const plane = new Float64Array(4 * n);
  for (let t = 0; t < n; t++) {
    const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
    const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2], vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
    plane[4 * t] = uy * vz - uz * vy;
    plane[4 * t + 1] = uz * vx - ux * vz;
    plane[4 * t + 2] = ux * vy - uy * vx;
    plane[4 * t + 3] = 4e-15 * (Math.abs(ux) + Math.abs(uy) + Math.abs(uz)) * (Math.abs(vx) + Math.abs(vy) + Math.abs(vz));
  }
  const side2 = (s, t) => {
    const k0 = k[3 * t], k1 = k[3 * t + 1], k2 = k[3 * t + 2];
    const nx = plane[4 * t], ny = plane[4 * t + 1], nz = plane[4 * t + 2], bound = plane[4 * t + 3];
    const o = 3 * k0;
    let all = 0;
    for (let c = 0; c < 3; c++) {
      const v = k[3 * s + c];
      if (v === k0 || v === k1 || v === k2) continue;
      const x = p[3 * v] - p[o], y = p[3 * v + 1] - p[o + 1], z = p[3 * v + 2] - p[o + 2];
      const d = x * nx + y * ny + z * nz, slack = bound * (Math.abs(x) + Math.abs(y) + Math.abs(z));
      const now = d > slack ? 1 : d < -slack ? -1 : 0;
      if (!now || now === -all) return 0;
      all = now;
    }
    return all;
  };
  return (s, t) => {
    if (!side2(s, t)) return false;
    const a = k[3 * s], b = k[3 * s + 1], c = k[3 * s + 2];
    const touch = (v) => v === a || v === b || v === c;
    return !(touch(k[3 * t]) || touch(k[3 * t + 1]) || touch(k[3 * t + 2])) || side2(t, s) !== 0;
  };
}
function findSelfCrossings(mesh2, work = quiet, limit = Infinity) {
  const contact = contactShare * diagonal(meshBounds(mesh2));
  const pairs = [];
  const apart = apartTest(mesh2);
  visitSelfPairs(
    mesh2,
    buildBoxTree(mesh2),
    (s, t) => {
      if (apart(s, t)) return;
      if (trianglesCross(mesh2, s, t, contact)) {
        pairs.push(s, t);
        if (pairs.length >= 2 * limit) return true;
      }
    },
    (share) => {
      checkStop(work);
      work.progress(share, "looking for crossings");
    }
  );
  return Uint32Array.from(pairs);
}
function crossingsFrom(mesh2, first) {
  const contact = contactShare * diagonal(meshBounds(mesh2));
  const pairs = [];
  const apart = apartTest(mesh2);
  visitPairsFrom(mesh2, buildBoxTree(mesh2), first, (s, t) => {
    if (!apart(s, t) && trianglesCross(mesh2, s, t, contact)) pairs.push(s, t);
  });
  return Uint32Array.from(pairs);
}

// src/core/math/conjugate-gradient.ts
function conjugateGradient(n, apply2, diagonal2, b, start, { tolerance = 1e-8, iterations = 4 * n + 50 } = {}) {
  const x = Float64Array.from(start);
  const r2 = new Float64Array(n), z = new Float64Array(n), p = new Float64Array(n), ap = new Float64Array(n);
  apply2(x, ap);
  let norm = 0;
  for (let i = 0; i < n; i++) {
    r2[i] = b[i] - ap[i];
    norm += b[i] * b[i];
  }
  const stop = tolerance * tolerance * Math.max(norm, 1e-300);
  let rz = 0;
  for (let i = 0; i < n; i++) {
    z[i] = r2[i] / diagonal2[i];
    p[i] = z[i];
    rz += r2[i] * z[i];
  }
  for (let it = 0; it < iterations; it++) {
    let rr = 0;
    for (let i = 0; i < n; i++) rr += r2[i] * r2[i];
    if (rr <= stop) break;
    apply2(p, ap);
    let pap = 0;
    for (let i = 0; i < n; i++) pap += p[i] * ap[i];
    if (!(pap > 0)) break;
    const alpha = rz / pap;
    let next = 0;
    for (let i = 0; i < n; i++) {
      x[i] += alpha * p[i];
      r2[i] -= alpha * ap[i];
      z[i] = r2[i] / diagonal2[i];
      next += r2[i] * z[i];
    }
    const beta = next / rz;
    rz = next;
    for (let i = 0; i < n; i++) p[i] = z[i] + beta * p[i];
  }
  return x;
}

// src/core/mend/fair-energy.ts
function fairEnergy(mesh2, free, order) {
  const around = vertexTriangles(mesh2);
  const { vertices, ringEnd, numberOf } = surroundings(mesh2, around, free, order);
  const freeCount = ringEnd[0];
  const umbrellas = umbrellasOf(mesh2, around, vertices, numberOf, ringEnd[order - 1]);
  if (order === 1) return { vertices, freeCount, gradient: (places2, out) => springs(umbrellas, freeCount, places2, out) };
  const pairs = order === 3 ? comparedPairs(umbrellas, ringEnd[1]) : null;
  const bending = new Float64Array(3 * umbrellas.rows), change = pairs ? new Float64Array(3 * umbrellas.rows) : bending;
  return {
    vertices,
    freeCount,
    gradient(places2, out) {
      apply(umbrellas, places2, bending);
      if (pairs) differences(pairs, bending, change);
      applyTransposed(umbrellas, freeCount, change, out);
    }
  };
}
function surroundings(mesh2, around, free, rings) {
  const numberOf = /* @__PURE__ */ new Map();
  const vertices = [];
  const take = (v) => {
    if (numberOf.has(v)) return;
    numberOf.set(v, vertices.length);
    vertices.push(v);
  };
  for (const v of free) take(v);
  const ringEnd = [vertices.length];
  for (let r2 = 0, from = 0; r2 < rings; r2++) {
    const to = vertices.length;
    for (let i = from; i < to; i++)
      for (let j = around.start[vertices[i]]; j < around.start[vertices[i] + 1]; j++)
        for (let c = 0; c < 3; c++) take(mesh2.triangles[3 * around.list[j] + c]);
    from = to;
    ringEnd.push(vertices.length);
  }
  return { vertices, ringEnd, numberOf };
}
function umbrellasOf({ positions: p, triangles: k }, around, vertices, numberOf, rows) {
  const start = new Uint32Array(rows + 1);
  const lists = [];
  for (let i = 0; i < rows; i++) {
    const seen = /* @__PURE__ */ new Set();
    const v = vertices[i];
    for (let j = around.start[v]; j < around.start[v + 1]; j++)
      for (let c = 0; c < 3; c++) {
        const u = k[3 * around.list[j] + c];
        if (u !== v) seen.add(numberOf.get(u));
      }
    lists.push([...seen]);
    start[i + 1] = start[i] + seen.size;
  }
  const neighbour = new Uint32Array(start[rows]), weight = new Float64Array(start[rows]);
  const at = (i, a) => p[3 * vertices[i] + a];
  for (let i = 0; i < rows; i++) {
    let sum = 0;
    lists[i].forEach((u, j) => {
      neighbour[start[i] + j] = u;
      sum += weight[start[i] + j] = 1 / Math.max(1e-12, Math.hypot(at(i, 0) - at(u, 0), at(i, 1) - at(u, 1), at(i, 2) - at(u, 2)));
    });
    for (let j = start[i]; j < start[i + 1]; j++) weight[j] /= sum;
  }
  return { rows, start, neighbour, weight };
}
function comparedPairs({ rows, start, neighbour }, reach2) {
  const pairs = [];
  for (let i = 0; i < reach2; i++)
    for (let j = start[i]; j < start[i + 1]; j++)
      if (neighbour[j] < rows && (neighbour[j] > i || neighbour[j] >= reach2)) pairs.push(i, neighbour[j]);
  return pairs;
}
function springs({ start, neighbour, weight }, freeCount, places2, out) {
  out.fill(0);
  for (let i = 0; i < freeCount; i++)
    for (let j = start[i]; j < start[i + 1]; j++)
      for (let a = 0; a < 3; a++) {
        const u = neighbour[j];
        const d = weight[j] * (places2[3 * i + a] - places2[3 * u + a]);
        out[3 * i + a] += d;
        if (u < freeCount) out[3 * u + a] -= d;
      }
}
function apply({ rows, start, neighbour, weight }, places2, out) {
  for (let i = 0; i < rows; i++) {
    let a = -places2[3 * i], b = -places2[3 * i + 1], c = -places2[3 * i + 2];
    for (let j = start[i]; j < start[i + 1]; j++) {
      const u = 3 * neighbour[j], w = weight[j];
      a += w * places2[u];
      b += w * places2[u + 1];
      c += w * places2[u + 2];
    }
    out[3 * i] = a;
    out[3 * i + 1] = b;
    out[3 * i + 2] = c;
  }
}
function applyTransposed({ rows, start, neighbour, weight }, freeCount, values, out) {
  out.fill(0);
  for (let i = 0; i < rows; i++) {
    const a = values[3 * i], b = values[3 * i + 1], c = values[3 * i + 2];
    if (i < freeCount) {
      out[3 * i] -= a;
      out[3 * i + 1] -= b;
      out[3 * i + 2] -= c;
    }
    for (let j = start[i]; j < start[i + 1]; j++) {
      if (neighbour[j] >= freeCount) continue;
      const u = 3 * neighbour[j], w = weight[j];
      out[u] += w * a;
      out[u + 1] += w * b;
      out[u + 2] += w * c;
    }
  }
}
function differences(pairs, values, out) {
  out.fill(0);
  for (let q = 0; q < pairs.length; q += 2)
    for (let a = 0; a < 3; a++) {
      const d = values[3 * pairs[q] + a] - values[3 * pairs[q + 1] + a];
      out[3 * pairs[q] + a] += d;
      out[3 * pairs[q + 1] + a] -= d;
    }
}

// src/core/mend/fair.ts
function fairVertices(mesh2, free, order, work = quiet, iterations = order === 3 ? 1500 : 500) {
  if (!free.length) return mesh2;
  const { vertices, freeCount, gradient } = fairEnergy(mesh2, free, order);
  const size2 = 3 * freeCount;
  const begin = new Float64Array(size2);
  const whole = new Float64Array(3 * vertices.length);
  vertices.forEach((v, i) => {
    for (let a = 0; a < 3; a++) (i < freeCount ? begin : whole)[3 * i + a] = mesh2.positions[3 * v + a];
  });
  const right = new Float64Array(size2);
  gradient(whole, right);
  for (let i = 0; i < size2; i++) right[i] = -right[i];
  whole.fill(0, size2);
  let calls = 0;
  const x = conjugateGradient(
    size2,
    (v, out) => {
      if ((calls++ & 63) === 0) {
        checkStop(work);
        work.progress(Math.min(1, calls / iterations), "fairing");
      }
      whole.set(v);
      gradient(whole, out);
    },
    new Float64Array(size2).fill(1),
    right,
    begin,
    { tolerance: order === 3 ? 1e-9 : 1e-7, iterations }
  );
  const positions = mesh2.positions.slice();
  for (let i = 0; i < freeCount; i++) for (let a = 0; a < 3; a++) positions[3 * vertices[i] + a] = x[3 * i + a];
  return { positions, triangles: mesh2.triangles };
}

// src/core/mend/loop.ts
var patchGround = (mesh2) => ({
  mesh: mesh2,
  made: /* @__PURE__ */ new Set(),
  around: vertexTriangles(mesh2),
  normals: triangleNormals(mesh2)
});
function loopOfRim(mesh2, rim) {
  const n = rim.vertices.length;
  const forward = mesh2.triangles[rim.halfEdges[0]] === rim.vertices[0];
  const vertices = forward ? rim.vertices.map((_, i) => rim.vertices[(n - i) % n]) : [...rim.vertices];
  const against = forward ? rim.halfEdges.map((_, i) => rim.halfEdges[(2 * n - 1 - i) % n]) : [...rim.halfEdges];
  return { points: vertices.map((v) => vertex(mesh2, v)), vertices, against };
}
function partLoop(loop) {
  const out = [];
  const stack = [];
  const at = /* @__PURE__ */ new Map();
  const give = (corners2) => {
    if (corners2.length < 3) return;
    out.push({
      points: corners2.map((i) => loop.points[i]),
      vertices: corners2.map((i) => loop.vertices[i]),
      against: corners2.map((i) => loop.against[i])
    });
  };
  loop.vertices.forEach((v, i) => {
    const seen = at.get(v);
    if (seen !== void 0) {
      const inner = stack.splice(seen);
      for (const k of inner) at.delete(loop.vertices[k]);
      give(inner);
    }
    at.set(v, stack.length);
    stack.push(i);
  });
  give(stack);
  return out;
}
function noteEdges(ground, loop, patch) {
  const n = loop.points.length;
  const corners2 = patch.triangles;
  for (let h = 0; h < corners2.length; h++) {
    const a = corners2[h], b = corners2[nextIn(h)];
    if (a < n && b < n && loop.vertices[a] >= 0 && loop.vertices[b] >= 0)
      ground.made.add(edgeKey(loop.vertices[a], loop.vertices[b]));
  }
}
function rimLength(mesh2, rim) {
  return rim.halfEdges.reduce((s, h) => {
    const a = vertex(mesh2, mesh2.triangles[h]), b = vertex(mesh2, mesh2.triangles[nextIn(h)]);
    return s + Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  }, 0);
}
function nearestOnRim(mesh2, rim, p) {
  let corner = 0, least = Infinity;
  rim.vertices.forEach((v, i) => {
    const q = vertex(mesh2, v);
    const d = Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
    if (d < least) {
      least = d;
      corner = i;
    }
  });
  return { corner, distance: least };
}
function rimNearest(mesh2, rims, p) {
  let best = null;
  for (const rim of rims) {
    if (!rim.closed) continue;
    const near = nearestOnRim(mesh2, rim, p);
    if (!best || near.distance < best.distance) best = { rim, ...near };
  }
  return best;
}
function joinPatches(mesh2, patches) {
  const points = [], triangles = [];
  const base = mesh2.positions.length / 3;
  for (const { loop, patch } of patches) {
    const n = loop.points.length;
    const id = new Int32Array(patch.pointCount);
    for (let v = 0; v < id.length; v++) {
      if (v < n && loop.vertices[v] >= 0) id[v] = loop.vertices[v];
      else {
        id[v] = base + points.length / 3;
        points.push(patch.points[3 * v], patch.points[3 * v + 1], patch.points[3 * v + 2]);
      }
    }
    for (const v of patch.triangles) triangles.push(id[v]);
  }
  const positions = new Float32Array(mesh2.positions.length + points.length);
  positions.set(mesh2.positions);
  positions.set(points, mesh2.positions.length);
  const all = new Uint32Array(mesh2.triangles.length + triangles.length);
  all.set(mesh2.triangles);
  all.set(triangles, mesh2.triangles.length);
  return { positions, triangles: all };
}

// src/core/mend/patch.ts
var Patch = class extends PolygonEdit {
  constructor(rimPoints, rim, start, taken2) {
    super(rimPoints, start);
    this.rim = rim;
    this.start = start;
    this.taken = taken2;
  }
  rim;
  start;
  taken;
  area() {
    let s = 0;
    for (let t = 0; t < this.faceCount; t++) s += Math.hypot(...this.cross(t)) / 2;
    return s;
  }
  /** Cosine of the angle at c over the edge ab. */
  cosine(c, a, b) {
    const p = this.points;
    const ux = p[3 * a] - p[3 * c], uy = p[3 * a + 1] - p[3 * c + 1], uz = p[3 * a + 2] - p[3 * c + 2];
    const vx = p[3 * b] - p[3 * c], vy = p[3 * b + 1] - p[3 * c + 1], vz = p[3 * b + 2] - p[3 * c + 2];
    const l = Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz);
    return l > 0 ? (ux * vx + uy * vy + uz * vz) / l : 1;
  }
  /** Flips inner edges whose opposite angles add to over 180 degrees, until none is left or `passes` is used up. */
  relax(passes = 12) {
    let all = 0;
    for (let pass = 0; pass < passes; pass++) {
      let flips = 0;
      for (let t = 0; t < this.faceCount; t++) {
        for (let c = 0; c < 3; c++) {
          const a = this.corners[3 * t + c], b = this.corners[3 * t + (c + 1) % 3];
          const u = this.faceFrom(b, a);
          if (u < 0 || u === t) continue;
          const x = this.third(t, a, b), y = this.third(u, a, b);
          if (x < 0 || y < 0 || x === y) continue;
          if (this.cosine(x, a, b) + this.cosine(y, a, b) >= -1e-6) continue;
          if (this.shared(x, y).length || this.taken(x, y)) continue;
          const before = this.crossOf(a, b, x), n1 = this.crossOf(x, a, y), n2 = this.crossOf(y, b, x);
          if (before[0] * n1[0] + before[1] * n1[1] + before[2] * n1[2] <= 0 || before[0] * n2[0] + before[1] * n2[1] + before[2] * n2[2] <= 0)
            continue;
          this.kill(t);
          this.kill(u);
          this.put(t, [x, a, y]);
          this.put(u, [y, b, x]);
          flips++;
          break;
        }
      }
      all += flips;
      if (!flips) break;
    }
    return all;
  }
  /**
   * Splits triangles at their middle until edges match the length wanted at each corner (Pfeifle & Seidel 1996; density factor sqrt 2).
   * `after` runs after each round: fairing coarse patches first leaves little to do on the fine one.
   */
  refine(wanted, { most = 12e3, after = () => {
  } } = {}) {
    const sigma = [...wanted];
    const expected = this.area() / (0.87 * (wanted.reduce((s, v) => s + v, 0) / wanted.length) ** 2);
    const grade = expected > 3 * most ? 1.5 : expected > most / 2 ? 1.25 : 1;
    for (let round = 0; round < 40; round++) {
      let split = 0;
      const count = this.faceCount;
      for (let t = 0; t < count; t++) {
        const [a, b, c] = this.loop(t);
        const p = this.points;
        const m = [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k] + p[3 * c + k]) / 3);
        const s = grade * (sigma[a] + sigma[b] + sigma[c]) / 3;
        const enough = [a, b, c].some((v2) => {
          const d = Math.SQRT2 * Math.hypot(m[0] - p[3 * v2], m[1] - p[3 * v2 + 1], m[2] - p[3 * v2 + 2]);
          return d <= s || d <= sigma[v2];
        });
        if (enough) continue;
        if (this.pointCount >= most) return;
        const v = this.addPoint(m[0], m[1], m[2]);
        sigma.push(s);
        this.kill(t);
        this.put(t, [a, b, v]);
        this.addFace([b, c, v]);
        this.addFace([c, a, v]);
        split++;
      }
      this.relax(4);
      if (!split) break;
      after();
    }
    this.relax(20);
  }
  /**
   * Fairs the inner points: least bending, the squared Laplacian over inner and rim points with weights by inverse edge length
   * (Liepa 2003; the rim's Laplacian brings in one ring of the mesh around, so the patch leaves it tangent).
   * @param outer for each rim point its neighbours in the mesh around, as x y z
   * @param iterations of the conjugate gradients, at most
   */
  fair(outer, iterations) {
    const total = this.pointCount;
    const inner = total - this.rim;
    if (inner < 1) return;
    const { start, list, weight, fixed: fixed2 } = this.laplacian(outer);
    const mid = new Float64Array(3 * total);
    const laplace = (x2) => {
      for (let v = 0; v < total; v++) {
        let a = 0, b = 0, c = 0;
        for (let i = start[v]; i < start[v + 1]; i++) {
          const u = 3 * (list[i] - this.rim);
          if (u < 0) continue;
          a += weight[i] * x2[u];
          b += weight[i] * x2[u + 1];
          c += weight[i] * x2[u + 2];
        }
        const o = 3 * (v - this.rim);
        if (o >= 0) {
          a -= x2[o];
          b -= x2[o + 1];
          c -= x2[o + 2];
        }
        mid[3 * v] = a;
        mid[3 * v + 1] = b;
        mid[3 * v + 2] = c;
      }
    };
    const transpose = (y, out) => {
      out.fill(0);
      for (let v = 0; v < total; v++) {
        for (let i = start[v]; i < start[v + 1]; i++) {
          const u = 3 * (list[i] - this.rim);
          if (u < 0) continue;
          out[u] += weight[i] * y[3 * v];
          out[u + 1] += weight[i] * y[3 * v + 1];
          out[u + 2] += weight[i] * y[3 * v + 2];
        }
        const o = 3 * (v - this.rim);
        if (o >= 0) for (let k = 0; k < 3; k++) out[o + k] -= y[3 * v + k];
      }
    };
    const diagonal2 = new Float64Array(3 * inner).fill(1);
    for (let i = 0; i < list.length; i++)
      if (list[i] >= this.rim) for (let k = 0; k < 3; k++) diagonal2[3 * (list[i] - this.rim) + k] += weight[i] ** 2;
    const right = new Float64Array(3 * inner);
    transpose(fixed2, right);
    for (let i = 0; i < right.length; i++) right[i] = -right[i];
    const begin = this.points.slice(3 * this.rim, 3 * this.pointCount);
    const x = conjugateGradient(
      3 * inner,
      (v, out) => {
        laplace(v);
        transpose(mid, out);
      },
      diagonal2,
      right,
      begin,
      { tolerance: 1e-6, iterations }
    );
    for (let i = 0; i < x.length; i++) this.points[3 * this.rim + i] = x[i];
  }
  /** Neighbours with weights that add to one (compressed rows), and what fixed points add to each Laplacian. */
  laplacian(outer) {
    const total = this.pointCount;
    const p = this.points;
    const sets = Array.from({ length: total }, () => []);
    for (let t = 0; t < this.faceCount; t++)
      for (let c = 0; c < 3; c++) {
        const a = this.corners[3 * t + c], b = this.corners[3 * t + (c + 1) % 3];
        if (!sets[a].includes(b)) sets[a].push(b);
        if (!sets[b].includes(a)) sets[b].push(a);
      }
    const start = new Uint32Array(total + 1);
    sets.forEach((s, v) => {
      start[v + 1] = start[v] + s.length;
    });
    const list = new Uint32Array(start[total]), weight = new Float64Array(start[total]), fixed2 = new Float64Array(3 * total);
    for (let v = 0; v < total; v++) {
      const around = v < this.rim ? outer[v] : [];
      let sum = 0;
      const far2 = [];
      sets[v].forEach((u, i) => {
        list[start[v] + i] = u;
        sum += weight[start[v] + i] = 1 / Math.max(this.edge(u, v), 1e-9);
      });
      for (let i = 0; i < around.length; i += 3) {
        const w = 1 / Math.max(Math.hypot(around[i] - p[3 * v], around[i + 1] - p[3 * v + 1], around[i + 2] - p[3 * v + 2]), 1e-9);
        far2.push(w);
        sum += w;
      }
      for (let i = start[v]; i < start[v + 1]; i++) {
        weight[i] /= sum;
        if (list[i] < this.rim) for (let k = 0; k < 3; k++) fixed2[3 * v + k] += weight[i] * p[3 * list[i] + k];
      }
      for (let k = 0; k < 3; k++) {
        far2.forEach((w, i) => {
          fixed2[3 * v + k] += w / sum * around[3 * i + k];
        });
        if (v < this.rim) fixed2[3 * v + k] -= p[3 * v + k];
      }
    }
    return { start, list, weight, fixed: fixed2 };
  }
};

// src/core/mend/triangulate-rim.ts
import earcut, { deviation } from "earcut";
var directLimit = 160;
function flatTriangulation(points) {
  let normal = [0, 0, 0];
  points.forEach((a, i) => {
    const b = points[(i + 1) % points.length];
    normal = [
      normal[0] + (a[1] - b[1]) * (a[2] + b[2]),
      normal[1] + (a[2] - b[2]) * (a[0] + b[0]),
      normal[2] + (a[0] - b[0]) * (a[1] + b[1])
    ];
  });
  if (length(normal) < 1e-20) return null;
  const [x, y] = frame(normalize(normal));
  const o = points[0];
  const flat = points.flatMap((p) => [dot(sub(p, o), x), dot(sub(p, o), y)]);
  const cut = earcut(flat);
  if (cut.length !== 3 * (points.length - 2) || deviation(flat, null, 2, cut) > 1e-6) return null;
  for (let i = 0; i < cut.length; i += 3) {
    const [a, b, c] = [cut[i], cut[i + 1], cut[i + 2]];
    const s = (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) - (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
    if (s < 0) [cut[i + 1], cut[i + 2]] = [cut[i + 2], cut[i + 1]];
  }
  return cut;
}
function leastWeightTriangulation(points, context, work = quiet) {
  const n = points.length;
  if (n < 3) return [];
  if (n === 3) return [0, 1, 2];
  if (n > directLimit) return halve2(points, context, work);
  const angle = new Float64Array(n * n), area = new Float64Array(n * n);
  const via = new Int32Array(n * n).fill(-1);
  const normalOf = (i, j, k) => {
    const c = cross(sub(points[j], points[i]), sub(points[k], points[i]));
    const l = length(c);
    return [l > 0 ? [c[0] / l, c[1] / l, c[2] / l] : [0, 0, 0], l / 2];
  };
  const bend = (a, b) => a === null ? 0 : 1 - Math.max(-1, Math.min(1, dot(a, b)));
  const inner = (i, j) => j === i + 1 ? context.outside[i] : normalOf(i, via[i * n + j], j)[0];
  for (let gap = 2; gap < n; gap++) {
    if (n > 200) checkStop(work);
    for (let i = 0; i + gap < n; i++) {
      const k = i + gap;
      let bestAngle = Infinity, bestArea = Infinity, best = -1;
      const blocked = gap < n - 1 && context.joined(i, k);
      for (let m = i + 1; m < k; m++) {
        if (via[i * n + m] === -1 && m > i + 1 || via[m * n + k] === -1 && k > m + 1) continue;
        const [normal, a] = normalOf(i, m, k);
        let w = Math.max(angle[i * n + m], angle[m * n + k]);
        w = Math.max(w, a > 0 ? bend(inner(i, m), normal) : 2, a > 0 ? bend(inner(m, k), normal) : 2);
        if (gap === n - 1) w = Math.max(w, bend(context.outside[n - 1], normal));
        if (blocked) w += 10;
        const s = area[i * n + m] + area[m * n + k] + a;
        if (w < bestAngle - 1e-9 || w < bestAngle + 1e-9 && s < bestArea) {
          bestAngle = w;
          bestArea = s;
          best = m;
        }
      }
      angle[i * n + k] = bestAngle;
      area[i * n + k] = bestArea;
      via[i * n + k] = best;
    }
  }
  const out = [];
  const stack = [[0, n - 1]];
  while (stack.length) {
    const [i, k] = stack.pop();
    if (k - i < 2) continue;
    const m = via[i * n + k];
    if (m < 0) continue;
    out.push(i, m, k);
    stack.push([i, m], [m, k]);
  }
  return out;
}
function halve2(points, context, work) {
  const n = points.length;
  const along = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) along[i + 1] = along[i] + length(sub(points[(i + 1) % n], points[i]));
  const total = along[n];
  const step = Math.max(1, Math.floor(n / 400));
  let best = Infinity, bi = 0, bk = Math.floor(n / 2);
  for (let i = 0; i < n; i += step) {
    for (let k = i + Math.floor(n / 5); k < n && k - i <= n - Math.floor(n / 5); k += step) {
      if (context.joined(i, k)) continue;
      const arc = Math.min(along[k] - along[i], total - (along[k] - along[i]));
      const chord = length(sub(points[i], points[k]));
      const score = chord / Math.max(arc, 1e-12) + 0.3 * Math.abs((k - i) / n - 0.5);
      if (score < best) {
        best = score;
        bi = i;
        bk = k;
      }
    }
  }
  const part = (ids) => {
    const sub2 = {
      outside: ids.map((id, x) => (ids[(x + 1) % ids.length] - id + n) % n === 1 ? context.outside[id] : null),
      joined: (i, j) => context.joined(ids[i], ids[j])
    };
    return leastWeightTriangulation(
      ids.map((i) => points[i]),
      sub2,
      work
    ).map((i) => ids[i]);
  };
  const one = Array.from({ length: bk - bi + 1 }, (_, i) => bi + i);
  const two = Array.from({ length: n - (bk - bi) + 1 }, (_, i) => (bk + i) % n);
  return [...part(one), ...part(two)];
}

// src/core/mend/patch-loop.ts
function patchLoop(ground, loop, how, given, work = quiet, spare) {
  const { mesh: mesh2, around, normals } = ground;
  const n = loop.points.length;
  const at = /* @__PURE__ */ new Map();
  loop.vertices.forEach((v, i) => {
    if (v >= 0 && !at.has(v)) at.set(v, i);
  });
  const linked = /* @__PURE__ */ new Set();
  const outer = loop.vertices.map((v) => {
    if (v < 0) return [];
    const seen = /* @__PURE__ */ new Set();
    for (let i = around.start[v]; i < around.start[v + 1]; i++)
      for (let c = 0; c < 3; c++) seen.add(mesh2.triangles[3 * around.list[i] + c]);
    seen.delete(v);
    for (const u of seen) if (at.has(u)) linked.add(at.get(v) * n + at.get(u));
    return Array.from(seen).filter((u) => !at.has(u)).flatMap((u) => vertex(mesh2, u));
  });
  const first = loop.vertices.map((v, i) => v < 0 ? i : at.get(v));
  const made = (i, j) => ground.made.size > 0 && loop.vertices[i] >= 0 && loop.vertices[j] >= 0 && ground.made.has(edgeKey(loop.vertices[i], loop.vertices[j]));
  const joined2 = (i, j) => i < n && j < n && (linked.has(first[i] * n + first[j]) || made(i, j));
  const cut = given ?? firstCut(loop, normals, how, joined2, spare, span2(work, 0, 0.4));
  const patch = new Patch(loop.points.flat(), n, cut, joined2);
  if (how === "flat") return patch;
  const wanted = loop.points.map((p, i) => {
    let sum = 0, count = 0;
    const take = (x, y, z) => {
      sum += Math.hypot(p[0] - x, p[1] - y, p[2] - z);
      count++;
    };
    take(...loop.points[(i + 1) % n]);
    take(...loop.points[(i + n - 1) % n]);
    for (let k = 0; k < outer[i].length; k += 3) take(outer[i][k], outer[i][k + 1], outer[i][k + 2]);
    return sum / count;
  });
  work.progress(0.4, "fitting a patch");
  patch.relax(10);
  let faired = n;
  patch.refine(wanted, {
    after: () => {
      checkStop(work);
      work.progress(Math.min(0.8, 0.4 + 3 * patch.pointCount / 9e4), "fitting a patch");
      if (patch.pointCount < 2 * faired) return;
      patch.fair(outer, 80);
      faired = patch.pointCount;
    }
  });
  checkStop(work);
  work.progress(0.85, "fairing the patch");
  patch.fair(outer, 3 * patch.pointCount < 9e3 ? 300 : 60);
  if (3 * patch.pointCount < 9e3 && patch.relax(6)) patch.fair(outer, 100);
  return patch;
}
function firstCut(loop, normals, how, joined2, spare, work) {
  const outside = loop.against.map((h) => {
    if (h < 0) return null;
    const t = h / 3 | 0;
    return [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]];
  });
  const flat = how === "flat" ? flatTriangulation(loop.points) : null;
  if (flat && !crossesMesh(flat, loop.points.length, joined2)) return flat;
  return spare ?? leastWeightTriangulation(loop.points, { outside, joined: joined2 }, work);
}
function crossesMesh(triangles, n, joined2) {
  for (let i = 0; i < triangles.length; i += 3)
    for (let c = 0; c < 3; c++) {
      const a = triangles[i + c], b = triangles[i + (c + 1) % 3];
      const gap = Math.abs(a - b);
      if (gap !== 1 && gap !== n - 1 && joined2(a, b)) return true;
    }
  return false;
}

// src/core/mend/fit-patches.ts
var others = {
  curvature: ["smooth", "flat"],
  smooth: ["flat"],
  flat: ["smooth"]
};
function continueCurvature(mesh2, fills, work = quiet) {
  if (!fills.length) return;
  const joined2 = joinPatches(
    mesh2,
    fills.map(({ loop, tried }) => ({ loop, patch: tried[0] }))
  );
  const first = mesh2.positions.length / 3;
  const free = joined2.positions.length / 3 - first;
  const fair = fairVertices(
    joined2,
    Array.from({ length: free }, (_, i) => first + i),
    3,
    work,
    // It starts from the tangent patch; on very large ones the last of its bending is not worth the wait.
    Math.max(200, Math.min(1500, Math.round(6e6 / Math.max(1, free))))
  );
  let at = mesh2.positions.length;
  for (const { loop, tried } of fills) {
    const points = Float64Array.from(tried[0].points.subarray(0, 3 * tried[0].pointCount));
    for (let v = 0; v < tried[0].pointCount; v++) {
      if (v < loop.points.length && loop.vertices[v] >= 0) continue;
      points.set(fair.positions.subarray(at, at + 3), 3 * v);
      at += 3;
    }
    const faired = new Patch(points, loop.points.length, Array.from(tried[0].triangles), () => false);
    tried.unshift(faired);
  }
}
function crossingsOf(mesh2, joined2, counts) {
  const p = joined2.positions, k = joined2.triangles;
  const old = triangleCount(mesh2);
  const flags = new Uint8Array(triangleCount(joined2));
  let first = old;
  for (const n of counts) {
    const own2 = Array.from({ length: n }, (_, i) => first + i);
    flagInBox(joined2, boxOf(joined2, own2), 0, flags, old);
    first += n;
  }
  const near = [];
  for (let t = 0; t < old; t++) if (flags[t]) near.push(t);
  const made = triangleCount(joined2) - old;
  const triangles = new Uint32Array(3 * (near.length + made));
  near.forEach((s, i) => triangles.set(k.subarray(3 * s, 3 * s + 3), 3 * i));
  triangles.set(k.subarray(3 * old), 3 * near.length);
  const of = [];
  counts.forEach((n, i) => {
    for (let j = 0; j < n; j++) of.push(i);
  });
  const out = counts.map(() => 0);
  const pairs = crossingsFrom({ positions: p, triangles }, near.length);
  for (let i = 0; i < pairs.length; i += 2) {
    const s = pairs[i] - near.length, u = pairs[i + 1] - near.length;
    if (s >= 0) out[of[s]]++;
    if (u >= 0 && (s < 0 || of[u] !== of[s])) out[of[u]]++;
  }
  return out;
}
function fitPatches(ground, fills, how, work = quiet) {
  if (!fills.length) return { mesh: ground.mesh, crossing: 0 };
  const now = fills.map(({ tried }) => tried[0]);
  const join = () => joinPatches(
    ground.mesh,
    fills.map(({ loop }, i) => ({ loop, patch: now[i] }))
  );
  let mesh2 = join();
  const count = () => crossingsOf(
    ground.mesh,
    mesh2,
    now.map((p) => p.triangles.length / 3)
  );
  let crosses = count();
  if (crosses.every((n) => !n)) return { mesh: mesh2, crossing: 0 };
  const best = now.map((patch, i) => ({ patch, crosses: crosses[i] }));
  others[how].forEach((way, round) => {
    const bad = best.flatMap((b, i) => b.crosses ? [i] : []);
    if (!bad.length) return;
    checkStop(work);
    work.progress(round / others[how].length, "fitting patches");
    for (const i of bad) {
      const { loop, tried } = fills[i];
      now[i] = way === "smooth" && how === "curvature" ? tried[1] : patchLoop(ground, loop, way, void 0, work, tried[tried.length - 1].start);
    }
    mesh2 = join();
    crosses = count();
    for (const i of bad) if (crosses[i] < best[i].crosses) best[i] = { patch: now[i], crosses: crosses[i] };
    best.forEach((b, i) => {
      now[i] = b.patch;
    });
  });
  mesh2 = join();
  return { mesh: mesh2, crossing: best.filter((b) => b.crosses).length };
}

// src/core/math/outline.ts
function insideOutline(outline, q) {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const a = outline[i], b = outline[j];
    if (a[1] > q[1] !== b[1] > q[1] && q[0] < (b[0] - a[0]) * (q[1] - a[1]) / (b[1] - a[1]) + a[0]) inside = !inside;
  }
  return inside;
}

// src/core/mesh/scraps.ts
function measurePieces(mesh2, piece, count, open2) {
  const area = new Float64Array(count), middle2 = new Float64Array(3 * count), corners2 = new Float64Array(count), reach2 = new Float64Array(count);
  for (let t = 0; t < piece.length; t++) {
    const i = piece[t];
    area[i] += triangleArea(mesh2, t);
    for (let c = 0; c < 3; c++) {
      const v = mesh2.triangles[3 * t + c];
      for (let k = 0; k < 3; k++) middle2[3 * i + k] += mesh2.positions[3 * v + k];
      corners2[i]++;
    }
  }
  for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) middle2[3 * i + k] /= corners2[i];
  for (let t = 0; t < piece.length; t++) {
    const i = piece[t];
    if (!open2.has(i)) continue;
    for (let c = 0; c < 3; c++) {
      const v = mesh2.triangles[3 * t + c];
      reach2[i] = Math.max(
        reach2[i],
        Math.hypot(
          mesh2.positions[3 * v] - middle2[3 * i],
          mesh2.positions[3 * v + 1] - middle2[3 * i + 1],
          mesh2.positions[3 * v + 2] - middle2[3 * i + 2]
        )
      );
    }
  }
  return { middle: middle2, reach: reach2, area, ids: [...open2].sort((a, b) => middle2[3 * a] - middle2[3 * b]) };
}
function outlineOf(corners2) {
  const centre = scale(corners2.reduce(add), 1 / corners2.length);
  const area = corners2.reduce(
    (s, p, i) => add(s, cross(sub(p, centre), sub(corners2[(i + 1) % corners2.length], centre))),
    [0, 0, 0]
  );
  const twice = length(area);
  const [x, y, n] = frame(twice > 0 ? scale(area, 1 / twice) : [0, 0, 1]);
  const flat = (p) => [dot(sub(p, centre), x), dot(sub(p, centre), y)];
  const outline = corners2.map(flat);
  return {
    centre,
    /** Radius of the circle of the same area. */
    wide: Math.sqrt(twice / 2 / Math.PI),
    far: corners2.reduce((m, p) => Math.max(m, Math.abs(p[0] - centre[0])), 0),
    off: (p) => Math.abs(dot(sub(p, centre), n)),
    holds(p) {
      return insideOutline(outline, flat(p));
    }
  };
}
function findScraps(mesh2, topology, rims) {
  if (rims.length < 2) return null;
  const { piece, count } = findPieces(mesh2, topology);
  if (count < 2) return null;
  const own2 = rims.map((rim) => piece[triangleOf(rim.halfEdges[0])]);
  const { middle: middle2, reach: reach2, area, ids } = measurePieces(mesh2, piece, count, new Set(own2));
  if (ids.length < 2) return null;
  const holeOf = new Int32Array(count).fill(-1);
  const width = new Float64Array(count);
  let some = false;
  rims.forEach((rim, r2) => {
    if (!rim.closed || rim.vertices.length < 4) return;
    const hole = outlineOf(rim.vertices.map((v) => vertex(mesh2, v)));
    let from = 0, to = ids.length;
    while (from < to) {
      const m = from + to >> 1;
      if (middle2[3 * ids[m]] < hole.centre[0] - hole.far) from = m + 1;
      else to = m;
    }
    for (let k = from; k < ids.length && middle2[3 * ids[k]] <= hole.centre[0] + hole.far; k++) {
      const i = ids[k];
      if (i === own2[r2] || area[i] > 0.5 * area[own2[r2]] || reach2[i] > 1.2 * hole.wide) continue;
      const at = [middle2[3 * i], middle2[3 * i + 1], middle2[3 * i + 2]];
      if (hole.off(at) > hole.wide || !hole.holds(at)) continue;
      if (holeOf[i] >= 0 && width[i] <= hole.wide) continue;
      holeOf[i] = r2;
      width[i] = hole.wide;
      some = true;
    }
  });
  return some ? { piece, holeOf, isBorder: (rim) => holeOf[own2[rim]] >= 0 } : null;
}

// src/core/mend/close-holes.ts
function choose(mesh2, rims, scraps, choice) {
  let chosen = rims.map((_, r2) => r2).filter((r2) => rims[r2].closed && rims[r2].vertices.length >= 3);
  if (choice.accept) chosen = chosen.filter((r2) => choice.accept(rims[r2]));
  if (choice.picked?.length) {
    const among = chosen.map((r2) => rims[r2]);
    const wanted = choice.picked.map((p) => rimNearest(mesh2, among, p)?.rim);
    chosen = chosen.filter((r2) => wanted.includes(rims[r2])).map((r2) => scraps?.isBorder(r2) ? scraps.holeOf[scraps.piece[triangleOf(rims[r2].halfEdges[0])]] : r2);
    chosen = [...new Set(chosen)];
  }
  if (scraps) chosen = chosen.filter((r2) => !scraps.isBorder(r2));
  if (choice.longest !== void 0) chosen = chosen.filter((r2) => rimLength(mesh2, rims[r2]) <= choice.longest);
  return chosen;
}
function closeHoles(input, choice, work = quiet) {
  let mesh2 = input;
  const topology = buildTopology(mesh2);
  const rims = findRims(mesh2, topology);
  const scraps = choice.scraps ? findScraps(mesh2, topology, rims) : null;
  let chosen = choose(mesh2, rims, scraps, choice).map((r2) => rims[r2]);
  const holes = scraps ? rims.filter((_, r2) => !scraps.isBorder(r2)).length : rims.length;
  if (scraps) {
    const filled = new Set(chosen);
    const keep = Uint8Array.from(
      scraps.piece,
      (p) => scraps.holeOf[p] >= 0 && filled.has(rims[scraps.holeOf[p]]) ? 0 : 1
    );
    if (keep.includes(0)) {
      const { mesh: kept, triangleFrom } = keepTriangles(mesh2, keep);
      const edges = new Set(chosen.flatMap((rim) => rim.halfEdges));
      mesh2 = kept;
      chosen = findRims(kept, buildTopology(kept)).filter(
        ({ halfEdges: [h] }) => edges.has(3 * triangleFrom[triangleOf(h)] + h % 3)
      );
    }
  }
  const gone = triangleCount(input) - triangleCount(mesh2);
  const firstNew = triangleCount(mesh2);
  if (!chosen.length) return { mesh: mesh2, closed: 0, left: holes, longest: 0, scraps: gone, firstNew, crossing: 0 };
  const ground = patchGround(mesh2);
  const fills = [];
  let longest = 0, closed = 0;
  const part = span2(work, 0, 0.8);
  chosen.forEach((rim, r2) => {
    checkStop(work);
    part.progress(r2 / chosen.length, "closing holes");
    const each = span2(part, r2 / chosen.length, (r2 + 1) / chosen.length);
    let some = false;
    for (const loop of partLoop(loopOfRim(mesh2, rim))) {
      const patch = patchLoop(ground, loop, choice.how, void 0, each);
      if (!patch.triangles.length) continue;
      noteEdges(ground, loop, patch);
      fills.push({ loop, tried: [patch] });
      some = true;
    }
    if (!some) return;
    closed++;
    longest = Math.max(longest, rimLength(mesh2, rim));
  });
  if (choice.how === "curvature") continueCurvature(mesh2, fills, span2(work, 0.8, 0.9));
  const fitted = fitPatches(ground, fills, choice.how, span2(work, 0.9, 1));
  return { mesh: fitted.mesh, closed, left: holes - closed, longest, scraps: gone, firstNew, crossing: fitted.crossing };
}

// src/testing/shapes.ts
function sphere(radius, n) {
  const p = [
    [1, 0, 0],
    [-1, 0, 0],
    [0, 1, 0],
    [0, -1, 0],
    [0, 0, 1],
    [0, 0, -1]
  ];
  let t = [
    [0, 2, 4],
    [2, 1, 4],
    [1, 3, 4],
    [3, 0, 4],
    [2, 0, 5],
    [1, 2, 5],
    [3, 1, 5],
    [0, 3, 5]
  ];
  for (let k = 0; k < n; k++) {
    const mid = /* @__PURE__ */ new Map();
    const m = (a, b) => {
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      let v = mid.get(key);
      if (v === void 0) {
        const s = [0, 1, 2].map((i) => p[a][i] + p[b][i]), l = Math.hypot(...s);
        v = p.push(s.map((x) => x / l)) - 1;
        mid.set(key, v);
      }
      return v;
    };
    t = t.flatMap(([a, b, c]) => {
      const x = m(a, b), y = m(b, c), z = m(c, a);
      return [
        [a, x, z],
        [x, b, y],
        [z, y, c],
        [x, y, z]
      ];
    });
  }
  return meshFrom(
    p.flat().map((v) => v * radius),
    t.flat()
  );
}

// src/testing/hard.ts
function spiky(n) {
  const s = sphere(10, n);
  const positions = s.positions.slice();
  for (let v = 0; v < vertexCount(s); v += 37) for (let k = 0; k < 3; k++) positions[3 * v + k] *= 2.2;
  return { positions, triangles: s.triangles };
}

// src/core/mend/specks.ts
function clearSpecks(mesh2, rule) {
  const n = triangleCount(mesh2);
  const same = () => Uint32Array.from({ length: n }, (_, t) => t);
  const topology = buildTopology(mesh2);
  const { piece, count } = findPieces(mesh2, topology);
  if (count < 2) return { mesh: mesh2, removed: 0, triangles: 0, pieces: count, from: same(), area: 0 };
  const open2 = new Uint8Array(count);
  for (let h = 0; h < topology.twin.length; h++) if (topology.twin[h] < 0) open2[piece[triangleOf(h)]] = 1;
  const area = new Float64Array(count);
  const lo = new Float64Array(3 * count).fill(Infinity), hi = new Float64Array(3 * count).fill(-Infinity);
  for (let t = 0; t < n; t++) {
    const i = piece[t];
    area[i] += triangleArea(mesh2, t);
    for (let c = 0; c < 3; c++)
      for (let a = 0; a < 3; a++) {
        const v = mesh2.positions[3 * mesh2.triangles[3 * t + c] + a];
        if (v < lo[3 * i + a]) lo[3 * i + a] = v;
        if (v > hi[3 * i + a]) hi[3 * i + a] = v;
      }
  }
  let largest = 0;
  for (let i = 1; i < count; i++) if (area[i] > area[largest]) largest = i;
  const gone = new Uint8Array(count);
  let search = null;
  for (let i = 0; i < count; i++) {
    if (i === largest) continue;
    const reach2 = Math.hypot(hi[3 * i] - lo[3 * i], hi[3 * i + 1] - lo[3 * i + 1], hi[3 * i + 2] - lo[3 * i + 2]);
    const small = rule.smallerThan !== void 0 && reach2 < rule.smallerThan || rule.share !== void 0 && area[i] < ((open2[i] ? void 0 : rule.closedShare) ?? rule.share) * area[largest];
    if (!small) continue;
    if (rule.furtherThan) {
      search ??= new MeshSearch(
        keepTriangles(
          mesh2,
          Uint8Array.from(piece, (p) => p === largest ? 1 : 0)
        ).mesh
      );
      if (search.nearest(
        [(lo[3 * i] + hi[3 * i]) / 2, (lo[3 * i + 1] + hi[3 * i + 1]) / 2, (lo[3 * i + 2] + hi[3 * i + 2]) / 2],
        rule.furtherThan
      ))
        continue;
    }
    gone[i] = 1;
  }
  const removed = gone.reduce((s, g) => s + g, 0);
  if (!removed) return { mesh: mesh2, removed: 0, triangles: 0, pieces: count, from: same(), area: 0 };
  const kept = keepTriangles(
    mesh2,
    Uint8Array.from(piece, (p) => gone[p] ? 0 : 1)
  );
  return {
    mesh: kept.mesh,
    removed,
    triangles: n - kept.triangleFrom.length,
    pieces: count - removed,
    from: kept.triangleFrom,
    area: area.reduce((s, a, i) => s + (gone[i] ? a : 0), 0)
  };
}

// src/core/mend/cut-and-refill.ts
function growTriangles(mesh2, flags, rings) {
  if (rings < 1) return flags;
  const around = vertexTriangles(mesh2);
  let current = flags;
  for (let r2 = 0; r2 < rings; r2++) {
    const wider = current.slice();
    for (let t = 0; t < current.length; t++) {
      if (!current[t]) continue;
      for (let c = 0; c < 3; c++) {
        const v = mesh2.triangles[3 * t + c];
        for (let i = around.start[v]; i < around.start[v + 1]; i++) wider[around.list[i]] = 1;
      }
    }
    current = wider;
  }
  return current;
}
function cutOut(mesh2, flags) {
  let gone = flags;
  for (let round = 0; round < 8; round++) {
    const kept = keepTriangles(
      mesh2,
      gone.map((f) => f ? 0 : 1)
    );
    const fans = cornerFans(kept.mesh, buildTopology(kept.mesh));
    if (!fans.manyFans.length) return kept;
    const bad = new Uint8Array(vertexCount(kept.mesh));
    for (const v of fans.manyFans) bad[v] = 1;
    gone = gone.slice();
    let added = 0;
    for (let i = 0; i < kept.mesh.triangles.length; i++) {
      const t = kept.triangleFrom[i / 3 | 0];
      if (bad[kept.mesh.triangles[i]] && !gone[t]) {
        gone[t] = 1;
        added++;
      }
    }
    if (!added) return kept;
  }
  return keepTriangles(
    mesh2,
    gone.map((f) => f ? 0 : 1)
  );
}
function cutAndRefill(mesh2, flags, { how, crumbs: crumbs2 = 0 }, work = quiet) {
  const before = buildTopology(mesh2);
  const cut = cutOut(mesh2, flags);
  if (!triangleCount(cut.mesh)) return null;
  let current = cut.mesh;
  let from = cut.triangleFrom;
  if (crumbs2 > 0) {
    const clean = clearSpecks(current, { share: crumbs2 });
    if (clean.removed) {
      from = clean.from.map((t) => from[t]);
      current = clean.mesh;
    }
  }
  const wasOpen = (h) => before.twin[3 * from[h / 3 | 0] + h % 3] < 0;
  let left = 0;
  const closed = closeHoles(
    current,
    {
      how,
      accept: (rim) => {
        const old = rim.halfEdges.filter(wasOpen).length;
        if (old && old < rim.halfEdges.length) left++;
        return old === 0;
      }
    },
    work
  );
  return {
    mesh: closed.mesh,
    removed: triangleCount(mesh2) - triangleCount(current),
    closed: closed.closed,
    left,
    longest: closed.longest,
    firstNew: closed.firstNew
  };
}

// src/core/mend/smooth.ts
function freeVertices(mesh2, choice) {
  const n = mesh2.positions.length / 3;
  const free = new Uint8Array(n);
  const { region } = choice;
  for (let i = 0; i < mesh2.triangles.length; i++) if (!region || region[i / 3 | 0]) free[mesh2.triangles[i]] = 1;
  if (choice.rim === "free") return free;
  if (region) {
    for (let i = 0; i < mesh2.triangles.length; i++) if (!region[i / 3 | 0]) free[mesh2.triangles[i]] = 0;
  }
  const t = buildTopology(mesh2);
  for (let h = 0; h < t.twin.length; h++)
    if (t.twin[h] < 0) free[mesh2.triangles[h]] = free[mesh2.triangles[nextIn(h)]] = 0;
  return free;
}
function smooth(mesh2, choice, work = quiet) {
  const free = freeVertices(mesh2, choice);
  const positions = choice.how === "even" ? taubin(mesh2, free, choice, work) : choice.how === "fair" ? implicit(mesh2, free, choice, work) : bilateral(mesh2, free, choice, work);
  let moved = 0, vertices = 0;
  const p = mesh2.positions;
  for (let v = 0; v < free.length; v++) {
    if (!free[v]) continue;
    vertices++;
    moved = Math.max(
      moved,
      Math.hypot(positions[3 * v] - p[3 * v], positions[3 * v + 1] - p[3 * v + 1], positions[3 * v + 2] - p[3 * v + 2])
    );
  }
  const out = { positions, triangles: mesh2.triangles };
  const before = meshVolume(mesh2);
  return { mesh: out, moved, vertices, volumeShare: before ? meshVolume(out) / before - 1 : 0 };
}
function neighbours(mesh2) {
  const around = vertexTriangles(mesh2);
  const n = mesh2.positions.length / 3;
  const start = new Uint32Array(n + 1);
  const list = [];
  const mark = new Int32Array(n).fill(-1);
  for (let v = 0; v < n; v++) {
    for (let i = around.start[v]; i < around.start[v + 1]; i++)
      for (let c = 0; c < 3; c++) {
        const u = mesh2.triangles[3 * around.list[i] + c];
        if (u === v || mark[u] === v) continue;
        mark[u] = v;
        list.push(u);
      }
    start[v + 1] = list.length;
  }
  return { start, list: Uint32Array.from(list) };
}
function taubin(mesh2, free, { strength, passes }, work) {
  const { start, list } = neighbours(mesh2);
  const lambda = 0.1 + 0.53 * strength;
  const mu = 1 / (0.1 - 1 / lambda);
  let x = Float64Array.from(mesh2.positions), y = x.slice();
  for (let pass = 0; pass < 2 * passes; pass++) {
    checkStop(work);
    work.progress(pass / (2 * passes), "smoothing");
    const f = pass % 2 ? mu : lambda;
    for (let v = 0; v < free.length; v++) {
      const n = start[v + 1] - start[v];
      if (!free[v] || !n) continue;
      let a = 0, b = 0, c = 0;
      for (let i = start[v]; i < start[v + 1]; i++) {
        const u = 3 * list[i];
        a += x[u];
        b += x[u + 1];
        c += x[u + 2];
      }
      y[3 * v] = x[3 * v] + f * (a / n - x[3 * v]);
      y[3 * v + 1] = x[3 * v + 1] + f * (b / n - x[3 * v + 1]);
      y[3 * v + 2] = x[3 * v + 2] + f * (c / n - x[3 * v + 2]);
    }
    ;
    [x, y] = [y, x];
    for (let v = 0; v < free.length; v++) if (!free[v]) for (let k = 0; k < 3; k++) y[3 * v + k] = x[3 * v + k];
  }
  return Float32Array.from(x);
}
function cotangents(k, p, start, list) {
  const find = (a, b) => {
    for (let i = start[a]; i < start[a + 1]; i++) if (list[i] === b) return i;
    return -1;
  };
  const weight = new Float64Array(list.length), mass = new Float64Array(start.length - 1);
  for (let t = 0; t < k.length; t += 3) {
    const v = [k[t], k[t + 1], k[t + 2]];
    for (let c = 0; c < 3; c++) {
      const o = 3 * v[c], a = 3 * v[(c + 1) % 3], b = 3 * v[(c + 2) % 3];
      const ux = p[a] - p[o], uy = p[a + 1] - p[o + 1], uz = p[a + 2] - p[o + 2], wx = p[b] - p[o], wy = p[b + 1] - p[o + 1], wz = p[b + 2] - p[o + 2];
      const area2 = Math.sqrt((uy * wz - uz * wy) ** 2 + (uz * wx - ux * wz) ** 2 + (ux * wy - uy * wx) ** 2);
      const cot = Math.max(-0.5, Math.min(10, (ux * wx + uy * wy + uz * wz) / Math.max(area2, 1e-30)));
      const i = find(v[(c + 1) % 3], v[(c + 2) % 3]), j = find(v[(c + 2) % 3], v[(c + 1) % 3]);
      weight[i] += cot / 2;
      weight[j] += cot / 2;
      mass[v[c]] += area2 / 6;
    }
  }
  for (let i = 0; i < weight.length; i++) if (weight[i] < 1e-4) weight[i] = 1e-4;
  return { weight, mass };
}
function keepVolume(positions, triangles, volume) {
  const after = meshVolume({ positions, triangles });
  if (after <= 0.2 * volume) return;
  const s = Math.cbrt(volume / after);
  const m = [0, 0, 0];
  const n = positions.length / 3;
  for (let o = 0; o < positions.length; o++) m[o % 3] += positions[o] / n;
  for (let o = 0; o < positions.length; o++) positions[o] = m[o % 3] + s * (positions[o] - m[o % 3]);
}
function implicit(mesh2, free, { strength, passes, region }, work) {
  const { start, list } = neighbours(mesh2);
  const { triangles: k } = mesh2;
  const n = free.length;
  let p = Float64Array.from(mesh2.positions);
  const volume = meshVolume(mesh2);
  let edges = 0, square = 0;
  for (let i = 0; i < k.length; i++) {
    const a = 3 * k[i], b = 3 * k[nextIn(i)];
    square += (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2;
    edges++;
  }
  const time2 = (edges ? square / edges : 0) * strength;
  for (let pass = 0; pass < passes; pass++) {
    checkStop(work);
    work.progress(pass / passes, "fairing");
    const { weight, mass } = cotangents(k, p, start, list);
    const meanMass = mass.reduce((s, m) => s + m, 0) / Math.max(1, n);
    const ids = [];
    const at = new Int32Array(n).fill(-1);
    for (let v = 0; v < n; v++) if (free[v] && start[v + 1] > start[v]) at[v] = ids.push(v) - 1;
    const f = time2;
    const next = p.slice();
    const diagonal2 = new Float64Array(ids.length), right = new Float64Array(ids.length), begin = new Float64Array(ids.length);
    ids.forEach((v, i) => {
      let s = Math.max(mass[v], 1e-3 * meanMass);
      for (let q = start[v]; q < start[v + 1]; q++) s += f * weight[q];
      diagonal2[i] = s;
    });
    for (let axis = 0; axis < 3; axis++) {
      ids.forEach((v, i) => {
        let s = Math.max(mass[v], 1e-3 * meanMass) * p[3 * v + axis];
        for (let q = start[v]; q < start[v + 1]; q++) if (at[list[q]] < 0) s += f * weight[q] * p[3 * list[q] + axis];
        right[i] = s;
        begin[i] = p[3 * v + axis];
      });
      const x = conjugateGradient(
        ids.length,
        (y, out2) => {
          for (let i = 0; i < ids.length; i++) {
            const v = ids[i];
            let s = diagonal2[i] * y[i];
            for (let q = start[v]; q < start[v + 1]; q++) {
              const u = at[list[q]];
              if (u >= 0) s -= f * weight[q] * y[u];
            }
            out2[i] = s;
          }
        },
        diagonal2,
        right,
        begin,
        { tolerance: 1e-7, iterations: 400 }
      );
      ids.forEach((v, i) => {
        next[3 * v + axis] = x[i];
      });
    }
    p = next;
  }
  const out = Float32Array.from(p);
  if (!region && buildTopology(mesh2).openEdges === 0 && volume > 0) keepVolume(out, k, volume);
  return out;
}
function measureFacets(k, p, centre, area) {
  const across = new Float64Array(3);
  for (let t = 0; t < area.length; t++) {
    const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
    for (let q = 0; q < 3; q++) centre[3 * t + q] = (p[a + q] + p[b + q] + p[c + q]) / 3;
    area[t] = crossInto(p, k, t, across) / 2;
  }
}
function drawToPlanes(p, free, around, normals, centre) {
  for (let v = 0; v < free.length; v++) {
    const m = around.start[v + 1] - around.start[v];
    if (!free[v] || !m) continue;
    let x = 0, y = 0, z = 0;
    for (let i = around.start[v]; i < around.start[v + 1]; i++) {
      const t = 3 * around.list[i];
      const d = normals[t] * (centre[t] - p[3 * v]) + normals[t + 1] * (centre[t + 1] - p[3 * v + 1]) + normals[t + 2] * (centre[t + 2] - p[3 * v + 2]);
      x += d * normals[t];
      y += d * normals[t + 1];
      z += d * normals[t + 2];
    }
    p[3 * v] += x / m;
    p[3 * v + 1] += y / m;
    p[3 * v + 2] += z / m;
  }
}
function bilateral(mesh2, free, { strength, passes }, work) {
  const { triangles: k } = mesh2;
  const n = triangleCount(mesh2);
  const topology = buildTopology(mesh2);
  const around = vertexTriangles(mesh2);
  const p = Float64Array.from(mesh2.positions);
  const centre = new Float64Array(3 * n), area = new Float64Array(n);
  let spread2 = 0, pairs = 0;
  const measure = () => measureFacets(k, p, centre, area);
  measure();
  for (let h = 0; h < topology.twin.length; h++) {
    const w = topology.twin[h];
    if (w <= h) continue;
    const s = 3 * (h / 3 | 0), t = 3 * (w / 3 | 0);
    spread2 += Math.hypot(centre[s] - centre[t], centre[s + 1] - centre[t + 1], centre[s + 2] - centre[t + 2]);
    pairs++;
  }
  const sigmaC = Math.max(1e-12, spread2 / Math.max(1, pairs));
  const sigmaS = 0.15 + 0.45 * strength;
  let normals = Float64Array.from(triangleNormals(mesh2)), next = normals.slice();
  const near = (t, visit) => {
    for (let c = 0; c < 3; c++) {
      const v = k[3 * t + c];
      for (let i = around.start[v]; i < around.start[v + 1]; i++) if (around.list[i] !== t) visit(around.list[i]);
    }
  };
  for (let pass = 0; pass < passes; pass++) {
    checkStop(work);
    work.progress(0.6 * pass / passes, "filtering normals");
    for (let t = 0; t < n; t++) {
      let x = area[t] * normals[3 * t], y = area[t] * normals[3 * t + 1], z = area[t] * normals[3 * t + 2];
      near(t, (u) => {
        const dc = (centre[3 * t] - centre[3 * u]) ** 2 + (centre[3 * t + 1] - centre[3 * u + 1]) ** 2 + (centre[3 * t + 2] - centre[3 * u + 2]) ** 2;
        const dn = (normals[3 * t] - normals[3 * u]) ** 2 + (normals[3 * t + 1] - normals[3 * u + 1]) ** 2 + (normals[3 * t + 2] - normals[3 * u + 2]) ** 2;
        const w = area[u] * Math.exp(-dc / (2 * sigmaC * sigmaC) - dn / (2 * sigmaS * sigmaS));
        x += w * normals[3 * u];
        y += w * normals[3 * u + 1];
        z += w * normals[3 * u + 2];
      });
      const l = Math.sqrt(x * x + y * y + z * z) || 1;
      next[3 * t] = x / l;
      next[3 * t + 1] = y / l;
      next[3 * t + 2] = z / l;
    }
    ;
    [normals, next] = [next, normals];
  }
  for (let round = 0; round < 12; round++) {
    checkStop(work);
    work.progress(0.6 + 0.4 * round / 12, "moving vertices");
    drawToPlanes(p, free, around, normals, centre);
    measure();
  }
  return Float32Array.from(p);
}

// src/core/mesh/nearest.ts
var leafSize2 = 4;
var Nearest = class {
  constructor(mesh2) {
    this.mesh = mesh2;
    this.p = mesh2.positions;
    this.k = mesh2.triangles;
  }
  mesh;
  p;
  k;
  /** The answer to the latest question. */
  triangle = -1;
  x = 0;
  y = 0;
  z = 0;
  /** Distance, mm; Infinity when nothing lies within `within`. */
  distance(p, within = Infinity) {
    return Math.sqrt(this.square(p[0], p[1], p[2], within));
  }
  /** Where along a ray a triangle is hit; NaN where it is not (Moeller & Trumbore 1997). */
  hit(t, o, d) {
    const { p, k } = this;
    const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
    const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2], vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
    const hx = d[1] * vz - d[2] * vy, hy = d[2] * vx - d[0] * vz, hz = d[0] * vy - d[1] * vx;
    const det = ux * hx + uy * hy + uz * hz;
    if (det === 0) return NaN;
    const sx = o[0] - p[a], sy = o[1] - p[a + 1], sz = o[2] - p[a + 2];
    const u = (sx * hx + sy * hy + sz * hz) / det;
    if (!(u >= 0 && u <= 1)) return NaN;
    const qx = sy * uz - sz * uy, qy = sz * ux - sx * uz, qz = sx * uy - sy * ux;
    const v = (d[0] * qx + d[1] * qy + d[2] * qz) / det;
    return v >= 0 && u + v <= 1 ? (vx * qx + vy * qy + vz * qz) / det : NaN;
  }
  /** Squared distance to one triangle when below `best`, else `best`; sets the answer (Ericson, Real-Time Collision Detection, 5.1.5). */
  tryTriangle(t, px, py, pz, best) {
    const { p, k } = this;
    const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
    const ax = p[a], ay = p[a + 1], az = p[a + 2];
    const abx = p[b] - ax, aby = p[b + 1] - ay, abz = p[b + 2] - az;
    const acx = p[c] - ax, acy = p[c + 1] - ay, acz = p[c + 2] - az;
    const apx = px - ax, apy = py - ay, apz = pz - az;
    const d1 = abx * apx + aby * apy + abz * apz, d2 = acx * apx + acy * apy + acz * apz;
    let v = 0, w = 0;
    if (!(d1 <= 0 && d2 <= 0)) {
      const bpx = px - p[b], bpy = py - p[b + 1], bpz = pz - p[b + 2];
      const d3 = abx * bpx + aby * bpy + abz * bpz, d4 = acx * bpx + acy * bpy + acz * bpz;
      if (d3 >= 0 && d4 <= d3) v = 1;
      else {
        const vc = d1 * d4 - d3 * d2;
        if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3);
        else {
          const cpx = px - p[c], cpy = py - p[c + 1], cpz = pz - p[c + 2];
          const d5 = abx * cpx + aby * cpy + abz * cpz, d6 = acx * cpx + acy * cpy + acz * cpz;
          if (d6 >= 0 && d5 <= d6) w = 1;
          else {
            const vb = d5 * d2 - d1 * d6;
            if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6);
            else {
              const va = d3 * d6 - d5 * d4;
              if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
                w = (d4 - d3) / (d4 - d3 + (d5 - d6));
                v = 1 - w;
              } else {
                const s = 1 / (va + vb + vc);
                v = vb * s;
                w = vc * s;
              }
            }
          }
        }
      }
    }
    const x = ax + abx * v + acx * w, y = ay + aby * v + acy * w, z = az + abz * v + acz * w;
    const dx = px - x, dy = py - y, dz = pz - z;
    const d = dx * dx + dy * dy + dz * dz;
    if (!(d < best)) return best;
    this.triangle = t;
    this.x = x;
    this.y = y;
    this.z = z;
    return d;
  }
};
var NearestPoints = class extends Nearest {
  tree;
  stack = new Int32Array(256);
  stackAt = new Float64Array(256);
  last = 0;
  constructor(mesh2) {
    super(mesh2);
    this.tree = buildBoxTree(mesh2);
  }
  square(px, py, pz, within = Infinity) {
    const { tree, stack, stackAt } = this;
    const { boxes, order, leaves } = tree;
    const first = leaves - 1;
    const n = order.length;
    let best = within * within;
    this.triangle = -1;
    if (!n) return Infinity;
    best = this.tryTriangle(order[this.last], px, py, pz, best);
    if (this.triangle >= 0) this.triangle = order[this.last];
    let found = this.triangle >= 0 ? this.last : -1;
    let top = 0;
    stack[0] = 0;
    stackAt[0] = 0;
    top = 1;
    while (top) {
      top--;
      if (stackAt[top] >= best) continue;
      const node = stack[top];
      if (node >= first) {
        const from = (node - first) * leafSize2, to = Math.min(n, from + leafSize2);
        for (let i = from; i < to; i++) {
          const d = this.tryTriangle(order[i], px, py, pz, best);
          if (d < best) {
            best = d;
            found = i;
          }
        }
        continue;
      }
      const l = 2 * node + 1, r2 = l + 1;
      const dl = boxSquare(boxes, l, px, py, pz), dr = boxSquare(boxes, r2, px, py, pz);
      if (dl < dr) {
        if (dr < best) {
          stack[top] = r2;
          stackAt[top++] = dr;
        }
        if (dl < best) {
          stack[top] = l;
          stackAt[top++] = dl;
        }
      } else {
        if (dl < best) {
          stack[top] = l;
          stackAt[top++] = dl;
        }
        if (dr < best) {
          stack[top] = r2;
          stackAt[top++] = dr;
        }
      }
    }
    if (found < 0) return Infinity;
    this.last = found;
    return best;
  }
};
function boxSquare(boxes, node, x, y, z) {
  const o = 6 * node;
  const dx = x < boxes[o] ? boxes[o] - x : x > boxes[o + 3] ? x - boxes[o + 3] : 0;
  const dy = y < boxes[o + 1] ? boxes[o + 1] - y : y > boxes[o + 4] ? y - boxes[o + 4] : 0;
  const dz = z < boxes[o + 2] ? boxes[o + 2] - z : z > boxes[o + 5] ? z - boxes[o + 5] : 0;
  return dx * dx + dy * dy + dz * dz;
}
function boxTest(p, a, b, c, half) {
  const axes = [];
  const sides = [
    [a, b],
    [b, c],
    [c, a]
  ].map(([u, v]) => [p[v] - p[u], p[v + 1] - p[u + 1], p[v + 2] - p[u + 2]]);
  for (const [x, y, z] of sides) axes.push(0, -z, y, z, 0, -x, -y, x, 0);
  const [[ux, uy, uz], [vx, vy, vz]] = sides;
  axes.push(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  const low = [], high = [];
  for (let i = 0; i < axes.length; i += 3) {
    const [x, y, z] = [axes[i], axes[i + 1], axes[i + 2]];
    const at = (o) => x * p[o] + y * p[o + 1] + z * p[o + 2];
    const reach2 = 1.000001 * half * (Math.abs(x) + Math.abs(y) + Math.abs(z)) + 1e-12;
    low.push(Math.min(at(a), at(b), at(c)) - reach2);
    high.push(Math.max(at(a), at(b), at(c)) + reach2);
  }
  return (mx, my, mz) => {
    for (let i = 0; i < low.length; i++) {
      const m = axes[3 * i] * mx + axes[3 * i + 1] * my + axes[3 * i + 2] * mz;
      if (m < low[i] || m > high[i]) return false;
    }
    return true;
  };
}
var NearestInGrid = class extends Nearest {
  cell;
  origin;
  count;
  start;
  list;
  tree = null;
  asked = 0;
  far = 0;
  /** @param least cells at least this wide, mm, for questions from about that far */
  constructor(mesh2, least = 0) {
    super(mesh2);
    const { positions: p, triangles: k } = mesh2;
    const n = k.length / 3;
    const { min, max } = meshBounds(mesh2);
    const size2 = [max[0] - min[0], max[1] - min[1], max[2] - min[2]];
    let reach2 = 0;
    for (let t = 0; t < n; t++) {
      const a = 3 * k[3 * t], b = 3 * k[3 * t + 1];
      reach2 += Math.abs(p[a] - p[b]) + Math.abs(p[a + 1] - p[b + 1]) + Math.abs(p[a + 2] - p[b + 2]);
    }
    let cell = Math.max(least, n ? 1.5 * reach2 / n : 1, 1e-6 * Math.max(...size2), 1e-12);
    const cells = () => size2.reduce((s, v) => s * (Math.floor(v / cell) + 1), 1);
    while (cells() > Math.max(64, 8 * n)) cell *= 1.26;
    this.cell = cell;
    this.origin = min;
    this.count = [Math.floor(size2[0] / cell) + 1, Math.floor(size2[1] / cell) + 1, Math.floor(size2[2] / cell) + 1];
    const [cx, cy] = this.count;
    const start = new Uint32Array(cx * cy * this.count[2] + 1);
    const each = (visit) => {
      for (let t = 0; t < n; t++) {
        const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
        const i0 = Math.floor((Math.min(p[a], p[b], p[c]) - min[0]) / cell), i1 = Math.floor((Math.max(p[a], p[b], p[c]) - min[0]) / cell);
        const j0 = Math.floor((Math.min(p[a + 1], p[b + 1], p[c + 1]) - min[1]) / cell), j1 = Math.floor((Math.max(p[a + 1], p[b + 1], p[c + 1]) - min[1]) / cell);
        const k0 = Math.floor((Math.min(p[a + 2], p[b + 2], p[c + 2]) - min[2]) / cell), k1 = Math.floor((Math.max(p[a + 2], p[b + 2], p[c + 2]) - min[2]) / cell);
        const meets = (i1 - i0 + 1) * (j1 - j0 + 1) * (k1 - k0 + 1) > 6 ? boxTest(p, a, b, c, cell / 2) : null;
        for (let z = k0; z <= k1; z++)
          for (let y = j0; y <= j1; y++)
            for (let x = i0; x <= i1; x++)
              if (!meets || meets(min[0] + (x + 0.5) * cell, min[1] + (y + 0.5) * cell, min[2] + (z + 0.5) * cell))
                visit(x + cx * (y + cy * z), t);
      }
    };
    each((c) => {
      start[c + 1]++;
    });
    for (let c = 1; c < start.length; c++) start[c] += start[c - 1];
    const fill = start.slice(0, -1);
    this.list = new Uint32Array(start[start.length - 1]);
    each((c, t) => {
      this.list[fill[c]++] = t;
    });
    this.start = start;
  }
  square(px, py, pz, within = Infinity) {
    const { cell, origin, count, start, list } = this;
    if (this.tree && this.far * 2 > ++this.asked) return this.ask(px, py, pz, within);
    const [cx, cy, cz] = count;
    this.triangle = -1;
    let best = within * within;
    const x = Math.floor((px - origin[0]) / cell), y = Math.floor((py - origin[1]) / cell), z = Math.floor((pz - origin[2]) / cell);
    for (let ring = 0; ring <= 4; ring++) {
      for (let k = Math.max(0, z - ring); k <= Math.min(cz - 1, z + ring); k++)
        for (let j = Math.max(0, y - ring); j <= Math.min(cy - 1, y + ring); j++) {
          const whole = Math.abs(k - z) === ring || Math.abs(j - y) === ring;
          for (let i = whole ? Math.max(0, x - ring) : x - ring; i <= Math.min(cx - 1, x + ring); i += whole ? 1 : 2 * ring || 1) {
            if (i < 0) continue;
            const c = i + cx * (j + cy * k);
            for (let q = start[c]; q < start[c + 1]; q++) best = this.tryTriangle(list[q], px, py, pz, best);
          }
        }
      const seen = ring * cell + Math.min(
        px - origin[0] - x * cell,
        (x + 1) * cell + origin[0] - px,
        py - origin[1] - y * cell,
        (y + 1) * cell + origin[1] - py,
        pz - origin[2] - z * cell,
        (z + 1) * cell + origin[2] - pz
      );
      if (best <= seen * seen) return this.triangle < 0 ? Infinity : best;
    }
    this.far++;
    return this.ask(px, py, pz, within);
  }
  /**
   * How many triangles a ray passes through, by a walk from cell to cell (Amanatides & Woo 1987).
   * @param accept tells which triangles count
   */
  crossings(origin, direction, accept) {
    const { cell, count, start, list } = this;
    const step = [0, 0, 0], at = [0, 0, 0], next = [0, 0, 0], per = [0, 0, 0];
    let enter = 0, leave = Infinity;
    for (let a = 0; a < 3; a++) {
      const lo = this.origin[a], hi = lo + count[a] * cell;
      if (direction[a] === 0) {
        if (origin[a] < lo || origin[a] > hi) return 0;
        continue;
      }
      const t0 = (lo - origin[a]) / direction[a], t1 = (hi - origin[a]) / direction[a];
      enter = Math.max(enter, Math.min(t0, t1));
      leave = Math.min(leave, Math.max(t0, t1));
    }
    if (enter > leave) return 0;
    for (let a = 0; a < 3; a++) {
      const x = origin[a] + enter * direction[a] - this.origin[a];
      at[a] = Math.min(count[a] - 1, Math.max(0, Math.floor(x / cell)));
      step[a] = Math.sign(direction[a]);
      per[a] = direction[a] === 0 ? Infinity : cell / Math.abs(direction[a]);
      next[a] = direction[a] === 0 ? Infinity : enter + ((at[a] + (step[a] > 0 ? 1 : 0)) * cell - x) / direction[a];
    }
    const hits = [];
    for (; ; ) {
      const a = next[0] <= next[1] && next[0] <= next[2] ? 0 : next[1] <= next[2] ? 1 : 2;
      const c = at[0] + count[0] * (at[1] + count[1] * at[2]);
      for (let q = start[c]; q < start[c + 1]; q++) {
        if (this.hit(list[q], origin, direction) >= 0 && !hits.includes(list[q]) && accept(list[q])) hits.push(list[q]);
      }
      at[a] += step[a];
      if (at[a] < 0 || at[a] >= count[a]) return hits.length;
      next[a] += per[a];
    }
  }
  ask(px, py, pz, within) {
    this.tree ??= new NearestPoints(this.mesh);
    const d = this.tree.square(px, py, pz, within);
    this.triangle = this.tree.triangle;
    this.x = this.tree.x;
    this.y = this.tree.y;
    this.z = this.tree.z;
    return d;
  }
};

// src/core/mend/refine.ts
var loose = 0;
var onLine = 1;
var fixed = 2;
var Skin = class extends PolygonEdit {
  kind;
  normal = new Float64Array(3);
  lines = /* @__PURE__ */ new Set();
  constructor(mesh2, keepEdges) {
    super(mesh2.positions, mesh2.triangles);
    const topology = buildTopology(mesh2);
    const normals = triangleNormals(mesh2);
    const limit = Math.cos(keepEdges * Math.PI / 180);
    const n = new Uint8Array(this.around.length);
    const dir = [];
    const kind = new Array(this.around.length).fill(loose);
    for (let h = 0; h < topology.twin.length; h++) {
      const w = topology.twin[h];
      if (w > h || w === -2 || w === -1) {
        let sharp = w < 0 || topology.sameWay[h] === 1;
        if (!sharp) {
          const a2 = 3 * triangleOf(h), b2 = 3 * triangleOf(w);
          sharp = normals[a2] * normals[b2] + normals[a2 + 1] * normals[b2 + 1] + normals[a2 + 2] * normals[b2 + 2] < limit;
        }
        if (!sharp) continue;
        const a = mesh2.triangles[h], b = mesh2.triangles[nextIn(h)];
        if (this.lines.has(edgeKey(a, b))) continue;
        this.lines.add(edgeKey(a, b));
        for (const [v, u] of [
          [a, b],
          [b, a]
        ]) {
          n[v] = Math.min(3, n[v] + 1);
          const d = [0, 1, 2].map((k) => this.points[3 * u + k] - this.points[3 * v + k]);
          const l = Math.hypot(...d) || 1;
          const unit = d.map((x) => x / l);
          const old = dir[v];
          if (n[v] === 2 && old && old[0] * unit[0] + old[1] * unit[1] + old[2] * unit[2] > -0.8) n[v] = 3;
          dir[v] = unit;
        }
      }
    }
    n.forEach((c, v) => {
      kind[v] = c === 0 ? loose : c === 2 ? onLine : fixed;
    });
    this.kind = kind;
  }
  split(a, b) {
    const { points: p } = this;
    const m = this.addPoint(
      (p[3 * a] + p[3 * b]) / 2,
      (p[3 * a + 1] + p[3 * b + 1]) / 2,
      (p[3 * a + 2] + p[3 * b + 2]) / 2
    );
    const line = this.lines.delete(edgeKey(a, b));
    this.kind.push(line ? onLine : loose);
    if (line) {
      this.lines.add(edgeKey(a, m));
      this.lines.add(edgeKey(m, b));
    }
    this.splitAt(a, b, m);
    return m;
  }
  /** Whether a triangle turns so far that its cosine is below `least` when its corner v moves. */
  turns(t, v, x, y, z, least) {
    const before = this.cross(t), after = this.cross(t, v, x, y, z);
    const l = Math.hypot(...before) * Math.hypot(...after);
    return before[0] * after[0] + before[1] * after[1] + before[2] * after[2] < least * l;
  }
  /** Where the line through b and a goes on; null where it would be cut short across a bend by more than `off`. */
  straightOn(a, b, beside, off) {
    const p = this.points;
    let next = -1;
    for (const v of beside) if (v !== b && this.lines.has(edgeKey(a, v))) next = v;
    if (next < 0) return null;
    const d = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * next + k]), e = [0, 1, 2].map((k) => p[3 * a + k] - p[3 * next + k]);
    const s = (d[0] * e[0] + d[1] * e[1] + d[2] * e[2]) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2 || 1);
    return Math.hypot(e[0] - s * d[0], e[1] - s * d[1], e[2] - s * d[2]) > off ? null : next;
  }
  /** Pulls a into b when the skin stays a manifold, nothing turns over, no edge grows past `long` and none strays from the old skin. */
  collapse(a, b, long, strays) {
    if (this.kind[a] === fixed) return false;
    const line = this.lines.has(edgeKey(a, b));
    if (this.kind[a] === onLine && !line) return false;
    const gone = this.shared(a, b);
    if (gone.length !== 2 && !(gone.length === 1 && line)) return false;
    if (this.commonNeighbours(a, b) !== gone.length) return false;
    const na = this.neighbours(a);
    const p = this.points;
    for (const v of na) if (v !== b && this.square(v, b) > long * long) return false;
    for (const t of this.around[a])
      if (!gone.includes(t) && this.turns(t, a, p[3 * b], p[3 * b + 1], p[3 * b + 2], 0.5)) return false;
    for (const v of na) if (v !== b && strays(v, b, a)) return false;
    const next = this.kind[a] === onLine ? this.straightOn(a, b, na, 0.05 * long) : -1;
    if (next === null) return false;
    for (const v of na) this.lines.delete(edgeKey(a, v));
    if (next >= 0) this.lines.add(edgeKey(next, b));
    this.pull(a, b, gone);
    return true;
  }
  /**
   * Whether the triangles round some corners turn from the first of them by more than an angle whose cosine is `least`. Corners on kept
   * lines, which look on to both sides, are left out; of such alone nothing is known, so they may.
   */
  bends(a, b, over, least) {
    let known = false, fx = 0, fy = 0, fz = 0;
    const { points: p, corners: k, normal: n } = this;
    for (let i = 0; i < 3; i++) {
      const v = i === 0 ? a : i === 1 ? b : over;
      if (this.kind[v] !== loose || i === 2 && over === a) continue;
      for (const t of this.around[v]) {
        const l = crossInto(p, k, t, n);
        if (!(l > 0)) continue;
        if (!known) {
          known = true;
          fx = n[0] / l;
          fy = n[1] / l;
          fz = n[2] / l;
        } else if (n[0] * fx + n[1] * fy + n[2] * fz < least * l) return true;
      }
    }
    return !known;
  }
  /** What is alive, renumbered. */
  mesh() {
    const to = new Int32Array(this.pointCount).fill(-1);
    const positions = [], triangles = [];
    for (let t = 0; t < this.faceCount; t++) {
      if (!this.alive(t)) continue;
      for (let c = 0; c < 3; c++) {
        const v = this.corners[3 * t + c];
        if (to[v] < 0)
          to[v] = positions.push(this.points[3 * v], this.points[3 * v + 1], this.points[3 * v + 2]) / 3 - 1;
        triangles.push(to[v]);
      }
    }
    return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
  }
  /** Turns edge ab when that brings the four corners nearer to six neighbours (four on a line) and keeps the skin's shape. */
  flip(a, b, strays) {
    if (this.lines.has(edgeKey(a, b))) return false;
    const two = this.shared(a, b);
    if (two.length !== 2) return false;
    const [s, t] = two;
    const c = this.third(s, a, b), d = this.third(t, a, b);
    if (c < 0 || d < 0 || c === d || this.shared(c, d).length) return false;
    const want = (v) => this.kind[v] === loose ? 6 : 4;
    const off = (v, by) => (this.around[v].length + by - want(v)) ** 2;
    if (off(a, -1) + off(b, -1) + off(c, 1) + off(d, 1) >= off(a, 0) + off(b, 0) + off(c, 0) + off(d, 0)) return false;
    if (strays(c, d, a)) return false;
    const made = this.turned(a, b, s, t, c, d);
    if (!made) return false;
    const n1 = this.cross(s), n2 = this.cross(t);
    const mean = [n1[0] + n2[0], n1[1] + n2[1], n1[2] + n2[2]];
    const m = Math.hypot(...mean);
    for (const [u, v, w] of made) {
      const n = this.crossOf(u, v, w);
      if (n[0] * mean[0] + n[1] * mean[1] + n[2] * mean[2] < 0.9 * m * Math.hypot(...n) || Math.hypot(...n) < 1e-3 * m)
        return false;
    }
    this.kill(s);
    this.kill(t);
    this.put(s, made[0]);
    this.put(t, made[1]);
    return true;
  }
};
function longestOver(skin, t, long) {
  let worst2 = -1, length2 = long * long;
  for (let c = 0; c < 3; c++) {
    const d = skin.square(skin.corners[3 * t + c], skin.corners[3 * t + (c + 1) % 3]);
    if (d > length2) {
      length2 = d;
      worst2 = c;
    }
  }
  return worst2;
}
var Refining = class {
  constructor(mesh2, edge, within, keepEdges, work) {
    this.edge = edge;
    this.within = within;
    this.work = work;
    this.skin = new Skin(mesh2, keepEdges);
    this.ground = new NearestInGrid(mesh2);
    this.long = 4 / 3 * edge;
    this.short = 4 / 5 * edge;
    this.least = (edge / 4 * (4 / 3)) ** 2;
  }
  edge;
  within;
  work;
  skin;
  ground;
  long;
  short;
  /** The squared length of an edge that is long enough to be split for straying. */
  least;
  /** Whether an edge lies on a bend and its middle has left the old skin. */
  strays = (a, b, over = a) => {
    const { skin, within } = this;
    const d = skin.square(a, b);
    if (d <= this.least || d < 4 * within * within) return false;
    if (!skin.bends(a, b, over, Math.cos(Math.min(Math.PI, 2 * within / Math.sqrt(d))))) return false;
    const p = skin.points;
    const [x, y, z] = [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k]) / 2);
    return !Number.isFinite(this.ground.square(x, y, z, within));
  };
  /** A new corner on a loose edge goes on to the old skin at once, so that its own edges are judged by where they will be. */
  split(a, b, moved) {
    const { skin, ground } = this;
    const v = skin.split(a, b);
    if (!moved || skin.kind[v] !== loose) return;
    const p = skin.points;
    if (ground.square(p[3 * v], p[3 * v + 1], p[3 * v + 2], this.edge) < Infinity) {
      p[3 * v] = ground.x;
      p[3 * v + 1] = ground.y;
      p[3 * v + 2] = ground.z;
    }
  }
  /** The longest side of a triangle that strays; -1 for none. */
  longestAstray(t) {
    const { skin } = this;
    let worst2 = -1, length2 = 0;
    for (let c = 0; c < 3; c++) {
      const a = skin.corners[3 * t + c], b = skin.corners[3 * t + (c + 1) % 3];
      const d = skin.square(a, b);
      if (a < b && d > length2 && this.strays(a, b)) {
        length2 = d;
        worst2 = c;
      }
    }
    return worst2;
  }
  /** Splits what is too long; once corners have moved, also what strays. */
  splitting(moved, most) {
    const { skin, work } = this;
    for (let sweep = 0, again = true; again && sweep < 12; sweep++) {
      again = false;
      const end = skin.faceCount;
      for (let t = 0; t < end; t++) {
        if ((t & 8191) === 0) checkStop(work);
        if (!skin.alive(t)) continue;
        let worst2 = longestOver(skin, t, this.long);
        if (worst2 < 0 && moved) worst2 = this.longestAstray(t);
        if (worst2 < 0) continue;
        if (skin.faceCount > most) break;
        this.split(skin.corners[3 * t + worst2], skin.corners[3 * t + (worst2 + 1) % 3], moved);
        again = true;
      }
    }
  }
  collapsing() {
    const { skin, long, short, strays } = this;
    for (let t = 0; t < skin.faceCount; t++) {
      if ((t & 8191) === 0) checkStop(this.work);
      for (let c = 0; c < 3 && skin.alive(t); c++) {
        const a = skin.corners[3 * t + c], b = skin.corners[3 * t + (c + 1) % 3];
        if (skin.square(a, b) >= short * short) continue;
        if (skin.collapse(a, b, long, strays) || skin.collapse(b, a, long, strays)) break;
      }
    }
  }
  flipping() {
    const { skin, strays } = this;
    for (let t = 0; t < skin.faceCount; t++) {
      if ((t & 8191) === 0) checkStop(this.work);
      for (let c = 0; c < 3 && skin.alive(t); c++) {
        const a = skin.corners[3 * t + c], b = skin.corners[3 * t + (c + 1) % 3];
        if (a < b && skin.flip(a, b, strays)) break;
      }
    }
  }
  /** Where a loose corner is relaxed to: the middle of its ring by area, in its tangent plane, on the old skin. Null where it has no ring. */
  relaxed(v) {
    const { skin, ground } = this;
    const p = skin.points;
    let x = 0, y = 0, z = 0, sum = 0, nx = 0, ny = 0, nz = 0;
    for (const t of skin.around[v]) {
      const n = skin.cross(t);
      const area = Math.hypot(...n);
      const k = skin.corners;
      sum += area;
      nx += n[0];
      ny += n[1];
      nz += n[2];
      x += area * (p[3 * k[3 * t]] + p[3 * k[3 * t + 1]] + p[3 * k[3 * t + 2]]) / 3;
      y += area * (p[3 * k[3 * t] + 1] + p[3 * k[3 * t + 1] + 1] + p[3 * k[3 * t + 2] + 1]) / 3;
      z += area * (p[3 * k[3 * t] + 2] + p[3 * k[3 * t + 1] + 2] + p[3 * k[3 * t + 2] + 2]) / 3;
    }
    const l = Math.hypot(nx, ny, nz);
    if (!(sum > 0) || !(l > 0)) return null;
    const d = [x / sum - p[3 * v], y / sum - p[3 * v + 1], z / sum - p[3 * v + 2]];
    const off = (d[0] * nx + d[1] * ny + d[2] * nz) / (l * l);
    const to = [p[3 * v] + d[0] - off * nx, p[3 * v + 1] + d[1] - off * ny, p[3 * v + 2] + d[2] - off * nz];
    if (ground.square(to[0], to[1], to[2]) < Infinity) return [ground.x, ground.y, ground.z];
    return to;
  }
  /** Moves loose corners to the middle of their rings where no triangle turns for it. */
  relaxing() {
    const { skin } = this;
    const p = skin.points;
    for (let v = 0; v < skin.pointCount; v++) {
      if ((v & 4095) === 0) checkStop(this.work);
      if (skin.kind[v] !== loose || !skin.around[v].length) continue;
      const to = this.relaxed(v);
      if (!to || skin.around[v].some((t) => skin.turns(t, v, to[0], to[1], to[2], 0.3))) continue;
      for (let k = 0; k < 3; k++) p[3 * v + k] = to[k];
    }
  }
};
function refine(mesh2, { edge, keepEdges = 40, within = edge / 20, rounds = 5, most = 4e6 }, work = quiet) {
  const now = new Refining(mesh2, edge, within, keepEdges, work);
  const tick = (round, share, phase) => {
    checkStop(work);
    work.progress((round + share) / rounds, phase);
  };
  for (let round = 0; round < rounds; round++) {
    tick(round, 0, "splitting");
    now.splitting(round > 0, most);
    tick(round, 0.35, "collapsing");
    now.collapsing();
    tick(round, 0.55, "flipping");
    now.flipping();
    tick(round, 0.7, "relaxing");
    now.relaxing();
  }
  work.progress(1, "done");
  return now.skin.mesh();
}

// src/core/kernels/simplifier.ts
import { MeshoptSimplifier } from "meshoptimizer";
var noise = 3e-5;
async function simplifyQuadric(mesh2, { triangles: wanted, error, locked, lockRims }) {
  await MeshoptSimplifier.ready;
  const flags = lockRims ? ["LockBorder", "ErrorAbsolute"] : ["ErrorAbsolute"];
  const target = Math.min(mesh2.triangles.length, 3 * Math.max(4, Math.floor(wanted)));
  const triangles = mesh2.triangles.slice(), positions = mesh2.positions.slice();
  const [count, told] = MeshoptSimplifier.simplifyWithUpdate(
    triangles,
    positions,
    3,
    new Float32Array(0),
    0,
    [],
    locked ?? null,
    target,
    error,
    flags
  );
  const least = (noise * diagonal(meshBounds(mesh2))) ** 2;
  for (let v = 0; v < positions.length; v += 3) {
    const x = positions[v] - mesh2.positions[v], y = positions[v + 1] - mesh2.positions[v + 1], z = positions[v + 2] - mesh2.positions[v + 2];
    if (x * x + y * y + z * z <= least) for (let a = 0; a < 3; a++) positions[v + a] = mesh2.positions[v + a];
  }
  return { mesh: compact({ positions, triangles: triangles.subarray(0, count) }), error: told };
}

// src/core/mesh/vertex-normals.ts
function vertexNormals(mesh2) {
  const { positions: p, triangles: k } = mesh2;
  const out = new Float32Array(p.length);
  for (let i = 0; i < k.length; i += 3) {
    const a = 3 * k[i], b = 3 * k[i + 1], c = 3 * k[i + 2];
    const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
    const wx = vx - ux, wy = vy - uy, wz = vz - uz;
    let nx = uy * vz - uz * vy, ny = uz * vx - ux * vz, nz = ux * vy - uy * vx;
    const n = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (!(n > 0)) continue;
    nx /= n;
    ny /= n;
    nz /= n;
    const alpha = Math.atan2(n, ux * vx + uy * vy + uz * vz), beta = Math.atan2(n, -(ux * wx + uy * wy + uz * wz));
    for (const [o, w] of [
      [a, alpha],
      [b, beta],
      [c, Math.PI - alpha - beta]
    ]) {
      out[o] += w * nx;
      out[o + 1] += w * ny;
      out[o + 2] += w * nz;
    }
  }
  for (let o = 0; o < out.length; o += 3) {
    const l = Math.sqrt(out[o] ** 2 + out[o + 1] ** 2 + out[o + 2] ** 2);
    if (l > 0) {
      out[o] /= l;
      out[o + 1] /= l;
      out[o + 2] /= l;
    }
  }
  return out;
}

// src/core/gauge/deviation.ts
var referenceOf = (mesh2) => ({
  mesh: mesh2,
  nearest: new NearestInGrid(mesh2),
  normals: vertexNormals(mesh2)
});
var plainReferenceOf = (mesh2) => ({
  mesh: mesh2,
  nearest: new NearestInGrid(mesh2),
  normals: null
});
function signedDistance(r2, x, y, z, within = Infinity) {
  const n = r2.nearest;
  const d = Math.sqrt(n.square(x, y, z, within));
  if (n.triangle < 0) return Infinity;
  const { positions: p, triangles: k } = r2.mesh;
  const t = 3 * n.triangle;
  let nx = 0, ny = 0, nz = 0;
  if (!r2.normals) {
    const a = 3 * k[t], b = 3 * k[t + 1], c = 3 * k[t + 2];
    const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2], vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
    nx = uy * vz - uz * vy;
    ny = uz * vx - ux * vz;
    nz = ux * vy - uy * vx;
  } else
    for (let c = 0; c < 3; c++) {
      const o = 3 * k[t + c], b = 3 * k[t + (c + 1) % 3], e = 3 * k[t + (c + 2) % 3];
      const ux = p[b] - n.x, uy = p[b + 1] - n.y, uz = p[b + 2] - n.z, vx = p[e] - n.x, vy = p[e + 1] - n.y, vz = p[e + 2] - n.z;
      const w = Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2);
      nx += w * r2.normals[o];
      ny += w * r2.normals[o + 1];
      nz += w * r2.normals[o + 2];
    }
  return (x - n.x) * nx + (y - n.y) * ny + (z - n.z) * nz < 0 ? -d : d;
}
function shares(i) {
  let u = (0.5 + i * 0.7548776662466927) % 1, v = (0.5 + i * 0.5698402909980532) % 1;
  if (u + v > 1) {
    u = 1 - u;
    v = 1 - v;
  }
  return [u, v];
}
function sampleDeviation(mesh2, to, count = 1e5, work = quiet) {
  const { positions: p, triangles: k } = mesh2;
  const n = triangleCount(mesh2);
  const vertices = p.length / 3;
  const area = new Float64Array(n), vertexArea = new Float64Array(vertices);
  let total = 0;
  for (let t = 0; t < n; t++) {
    const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
    const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2], vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
    area[t] = Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2) / 2;
    total += area[t];
  }
  const inside = Math.max(0, count - vertices);
  const per = total > 0 ? inside / total : 0;
  const distance2 = [], weight = [];
  for (let t = 0; t < n; t++) {
    const m = Math.floor(per * area[t] + 0.5);
    const share = area[t] / (m + 1);
    for (let c2 = 0; c2 < 3; c2++) vertexArea[k[3 * t + c2]] += share / 3;
    if (!m) continue;
    const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
    for (let i = 1; i <= m; i++) {
      const [u, v] = shares(i);
      const w = 1 - u - v;
      distance2.push(
        signedDistance(
          to,
          w * p[a] + u * p[b] + v * p[c],
          w * p[a + 1] + u * p[b + 1] + v * p[c + 1],
          w * p[a + 2] + u * p[b + 2] + v * p[c + 2]
        )
      );
      weight.push(share);
    }
    if ((t & 1023) === 0) checkStop(work);
  }
  const step = Math.max(1, Math.floor(vertices / Math.max(1, count)));
  for (let v = 0; v < vertices; v += step) {
    if ((v & 4095) < step) {
      checkStop(work);
      work.progress(v / vertices, "measuring");
    }
    if (!(vertexArea[v] > 0)) continue;
    distance2.push(signedDistance(to, p[3 * v], p[3 * v + 1], p[3 * v + 2]));
    weight.push(vertexArea[v] * step);
  }
  return { distance: Float32Array.from(distance2), weight: Float32Array.from(weight) };
}
var tidy = (v) => Number(v.toFixed(6));
function figuresOf({ distance: distance2, weight }, tolerance) {
  let total = 0, sum = 0, square = 0, least = Infinity, most = -Infinity, inside = 0;
  for (let i = 0; i < distance2.length; i++) {
    const d = distance2[i], w = weight[i];
    total += w;
    sum += w * d;
    square += w * d * d;
    if (d < least) least = d;
    if (d > most) most = d;
    if (tolerance !== void 0 && Math.abs(d) <= tolerance) inside += w;
  }
  if (!(total > 0))
    return { mean: 0, rms: 0, max: 0, p95: 0, least: 0, most: 0, ...tolerance === void 0 ? {} : { within: 1 } };
  const reach2 = Math.max(Math.abs(least), Math.abs(most));
  const bins = new Float64Array(8192);
  for (let i = 0; i < distance2.length; i++)
    bins[reach2 > 0 ? Math.min(8191, Math.floor(8192 * Math.abs(distance2[i]) / reach2)) : 0] += weight[i];
  let run = 0, p95 = reach2;
  for (let b = 0; b < 8192; b++) {
    run += bins[b];
    if (run >= 0.95 * total) {
      p95 = (b + 1) / 8192 * reach2;
      break;
    }
  }
  return {
    mean: tidy(sum / total),
    rms: tidy(Math.sqrt(square / total)),
    max: tidy(Math.max(Math.abs(least), Math.abs(most))),
    p95: tidy(p95),
    least: tidy(least),
    most: tidy(most),
    ...tolerance === void 0 ? {} : { within: tidy(inside / total) }
  };
}
function histogramOf({ distance: distance2, weight }, reach2, bins = 41) {
  const out = new Array(bins).fill(0);
  let total = 0;
  for (let i = 0; i < distance2.length; i++) {
    const b = Math.floor((distance2[i] + reach2) / (2 * reach2) * bins);
    out[Math.max(0, Math.min(bins - 1, b))] += weight[i];
    total += weight[i];
  }
  return { from: tidy(-reach2), to: tidy(reach2), bins: out.map((v) => Number((total > 0 ? v / total : 0).toFixed(5))) };
}
var joined = (a, b) => {
  const distance2 = new Float32Array(a.distance.length + b.distance.length), weight = new Float32Array(distance2.length);
  distance2.set(a.distance);
  distance2.set(b.distance, a.distance.length);
  weight.set(a.weight);
  weight.set(b.weight, a.weight.length);
  return { distance: distance2, weight };
};
function deviation2(first, second, {
  tolerance,
  samples = 1e5,
  toFirst,
  toSecond
} = {}, work = quiet) {
  const there = sampleDeviation(first, toSecond ?? referenceOf(second), samples, {
    signal: work.signal,
    progress: (s, p) => work.progress(0.5 * s, p)
  });
  const raw = sampleDeviation(second, toFirst ?? referenceOf(first), samples, {
    signal: work.signal,
    progress: (s, p) => work.progress(0.5 + 0.5 * s, p)
  });
  const back = { distance: raw.distance.map((d) => -d), weight: raw.weight };
  const both = joined(there, back);
  const figures = figuresOf(both, tolerance);
  const reach2 = Math.max(tolerance === void 0 ? 0 : 1.5 * tolerance, figures.p95 * 1.5, 1e-3 * figures.max, 1e-9);
  return {
    samples: { there, back },
    there: figuresOf(there, tolerance),
    back: figuresOf(back, tolerance),
    both: figures,
    histogram: histogramOf(both, reach2)
  };
}

// src/core/mend/collapse/collapsing-skin.ts
var CollapsingSkin = class {
  /** Places of the vertices, three numbers each. */
  places;
  /** Vertices of the triangles, three each; those of dead triangles mean nothing. */
  corners;
  /** Triangles round each vertex; none round one that is gone. */
  around;
  /** 1 for vertices that stay where they are. */
  fixed;
  /** 1 for vertices on an open rim, or on an edge of several triangles. */
  rim;
  /** How often each vertex was moved: what was priced before is out of date. */
  stamps;
  /** Triangles that are left. */
  alive;
  /** Of the first skin: the half-edge beyond each, negative where there is none or are several. */
  twin;
  dead;
  /** Neighbours along lines that are kept: rims, and edges that bend. */
  lines = /* @__PURE__ */ new Map();
  constructor(mesh2, { locked, lockRims, keepEdges }) {
    const vertices = vertexCount(mesh2);
    this.places = Float64Array.from(mesh2.positions);
    this.corners = Int32Array.from(mesh2.triangles);
    this.alive = triangleCount(mesh2);
    this.dead = new Uint8Array(this.alive);
    this.stamps = new Int32Array(vertices);
    this.rim = new Uint8Array(vertices);
    this.fixed = new Uint8Array(vertices);
    if (locked) this.fixed.set(locked);
    this.around = Array.from({ length: vertices }, () => []);
    for (let i = 0; i < this.corners.length; i++) this.around[this.corners[i]].push(i / 3 | 0);
    this.twin = buildTopology(mesh2).twin;
    this.findLines(vertices, lockRims, keepEdges === void 0 ? -2 : Math.cos(keepEdges * Math.PI / 180));
  }
  /** Vertices that a line leads to from v. */
  linesAt(v) {
    return this.lines.get(v) ?? [];
  }
  /** Whether triangle t has the vertex v. */
  has(t, v) {
    const { corners: corners2 } = this;
    return corners2[3 * t] === v || corners2[3 * t + 1] === v || corners2[3 * t + 2] === v;
  }
  sharesTriangle(a, b) {
    for (const t of this.around[a]) if (this.has(t, b)) return true;
    return false;
  }
  /** Makes `keep` and `gone` one vertex at a place. */
  merge(keep, gone, at) {
    this.mergeTriangles(keep, gone);
    this.places.set(at, 3 * keep);
    if (this.rim[gone]) this.rim[keep] = 1;
    this.mergeLines(keep, gone);
    this.stamps[keep]++;
  }
  /** Vertices of the triangles round v, itself among them. */
  ring(v) {
    const ring = /* @__PURE__ */ new Set();
    for (const t of this.around[v]) for (let c = 0; c < 3; c++) ring.add(this.corners[3 * t + c]);
    return ring;
  }
  /** What is left, without vertices that nothing uses. */
  mesh() {
    const triangles = new Uint32Array(3 * this.alive);
    let o = 0;
    for (let t = 0; t < this.dead.length; t++)
      if (!this.dead[t]) for (let c = 0; c < 3; c++) triangles[o++] = this.corners[3 * t + c];
    return compact({ positions: Float32Array.from(this.places), triangles });
  }
  findLines(vertices, lockRims, cosine) {
    const { corners: corners2, twin, fixed: fixed2, rim, places: places2 } = this;
    const keys = /* @__PURE__ */ new Set();
    const n = new Float64Array(3), m = new Float64Array(3);
    for (let h = 0; h < twin.length; h++) {
      const beyond = twin[h];
      const a = corners2[h], b = corners2[nextIn(h)];
      const key = a < b ? a * vertices + b : b * vertices + a;
      if (beyond < 0) {
        if (beyond === -2 || lockRims) fixed2[a] = fixed2[b] = 1;
        rim[a] = rim[b] = 1;
        keys.add(key);
        continue;
      }
      if (beyond < h || cosine < -1) continue;
      const l = crossInto(places2, corners2, h / 3 | 0, n) * crossInto(places2, corners2, beyond / 3 | 0, m);
      if (l > 0 && (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / l < cosine) keys.add(key);
    }
    for (const key of keys) {
      const a = Math.floor(key / vertices), b = key % vertices;
      this.lineList(a).push(b);
      this.lineList(b).push(a);
    }
  }
  lineList(v) {
    let list = this.lines.get(v);
    if (!list) this.lines.set(v, list = []);
    return list;
  }
  mergeTriangles(keep, gone) {
    const { corners: corners2, around, dead } = this;
    const left = [];
    for (const t of around[keep]) {
      if (this.has(t, gone)) {
        dead[t] = 1;
        this.alive--;
      } else left.push(t);
    }
    for (const t of around[gone]) {
      if (dead[t]) {
        for (let c = 0; c < 3; c++) {
          const v = corners2[3 * t + c];
          if (v !== keep && v !== gone) takeOut(around[v], t);
        }
        continue;
      }
      for (let c = 0; c < 3; c++) if (corners2[3 * t + c] === gone) corners2[3 * t + c] = keep;
      left.push(t);
    }
    around[keep] = left;
    around[gone] = [];
  }
  mergeLines(keep, gone) {
    const ways = /* @__PURE__ */ new Set([...this.linesAt(keep), ...this.linesAt(gone)]);
    ways.delete(keep);
    ways.delete(gone);
    if (ways.size) {
      for (const u of this.linesAt(gone)) {
        const list = this.lineList(u);
        takeOut(list, gone);
        if (u !== keep && !list.includes(keep)) list.push(keep);
      }
      this.lines.set(keep, [...ways]);
    } else this.lines.delete(keep);
    this.lines.delete(gone);
  }
};
function takeOut(list, value) {
  const at = list.indexOf(value);
  if (at >= 0) list.splice(at, 1);
}

// src/core/mend/collapse/edge-heap.ts
var EdgeHeap = class {
  cost = new Float64Array(1024);
  a = new Int32Array(1024);
  b = new Int32Array(1024);
  stamp = new Int32Array(1024);
  size = 0;
  /** The entry last taken off. */
  top = { cost: 0, a: 0, b: 0, stamp: 0 };
  push(cost, a, b, stamp) {
    if (this.size === this.cost.length) this.grow();
    let i = this.size++;
    while (i > 0) {
      const up = i - 1 >> 1;
      if (this.cost[up] <= cost) break;
      this.move(up, i);
      i = up;
    }
    this.set(i, cost, a, b, stamp);
  }
  /** Takes the cheapest off and leaves it in `top`; false when there is none. */
  pop() {
    if (!this.size) return false;
    const { top } = this;
    top.cost = this.cost[0];
    top.a = this.a[0];
    top.b = this.b[0];
    top.stamp = this.stamp[0];
    const last = --this.size;
    const cost = this.cost[last];
    let i = 0;
    for (; ; ) {
      let child = 2 * i + 1;
      if (child >= last) break;
      if (child + 1 < last && this.cost[child + 1] < this.cost[child]) child++;
      if (this.cost[child] >= cost) break;
      this.move(child, i);
      i = child;
    }
    this.move(last, i);
    return true;
  }
  grow() {
    const doubled = (from, to) => {
      to.set(from);
      return to;
    };
    const n = 2 * this.size;
    this.cost = doubled(this.cost, new Float64Array(n));
    this.a = doubled(this.a, new Int32Array(n));
    this.b = doubled(this.b, new Int32Array(n));
    this.stamp = doubled(this.stamp, new Int32Array(n));
  }
  set(i, cost, a, b, stamp) {
    this.cost[i] = cost;
    this.a[i] = a;
    this.b[i] = b;
    this.stamp[i] = stamp;
  }
  move(from, to) {
    this.set(to, this.cost[from], this.a[from], this.b[from], this.stamp[from]);
  }
};

// src/core/mend/collapse/edge-price.ts
var lineWeight = 30;
var holdShare = 1e-6;
var EdgePrice = class {
  constructor(skin) {
    this.skin = skin;
    const vertices = skin.around.length;
    this.quadric = new Float64Array(10 * vertices);
    for (let v = 0; v < vertices; v++) if (skin.around[v].length) this.refresh(v);
  }
  skin;
  /** The place that the edge last priced would be collapsed to. */
  best = new Float64Array(3);
  /** Of each vertex xx xy xz yy yz zz x y z 1, weighted by area. */
  quadric;
  /** That of the edge being priced. */
  sum = new Float64Array(10);
  /** Inverse of its form, by cofactors: xx xy xz yy yz zz, to be divided by `determinant`. */
  inverse = new Float64Array(6);
  determinant = 0;
  normal = new Float64Array(3);
  middle = new Float64Array(3);
  /** Makes the quadric of a vertex anew, after something round it changed. */
  refresh(v) {
    const { quadric, normal: n } = this;
    const { places: p, corners: corners2, around } = this.skin;
    const o = 10 * v;
    quadric.fill(0, o, o + 10);
    for (const t of around[v]) {
      const l = crossInto(p, corners2, t, n);
      if (!(l > 0)) continue;
      const nx = n[0] / l, ny = n[1] / l, nz = n[2] / l, a = 3 * corners2[3 * t];
      this.addPlane(o, nx, ny, nz, -(nx * p[a] + ny * p[a + 1] + nz * p[a + 2]), l / 2);
    }
    for (const u of this.skin.linesAt(v)) this.addUprightPlanes(o, v, u);
  }
  /** Cost of collapsing a and b, with the place in `best`; Infinity when it may not be. */
  price(a, b) {
    const { fixed: fixed2, places: p } = this.skin;
    const { best, sum, quadric: q } = this;
    if (fixed2[a] && fixed2[b]) return Infinity;
    for (let k = 0; k < 10; k++) sum[k] = q[10 * a + k] + q[10 * b + k];
    if (fixed2[a] || fixed2[b]) {
      const v = 3 * (fixed2[a] ? a : b);
      for (let k = 0; k < 3; k++) best[k] = p[v + k];
    } else if (!this.findBest(a, b)) return Infinity;
    const x = best[0], y = best[1], z = best[2];
    const cost = sum[0] * x * x + sum[3] * y * y + sum[5] * z * z + 2 * (sum[1] * x * y + sum[2] * x * z + sum[4] * y * z + sum[6] * x + sum[7] * y + sum[8] * z) + sum[9];
    return Math.max(0, cost);
  }
  /** Leaves the cheapest place in `best`; false when no place is told by the planes. */
  findBest(a, b) {
    const { best, middle: m, sum, inverse: c } = this;
    const { places: p, rim } = this.skin;
    for (let k = 0; k < 3; k++) m[k] = (p[3 * a + k] + p[3 * b + k]) / 2;
    const xx = sum[0], xy = sum[1], xz = sum[2], yy = sum[3], yz = sum[4], zz = sum[5];
    const hold = holdShare * (xx + yy + zz) + 1e-30;
    const m0 = xx + hold, m3 = yy + hold, m5 = zz + hold;
    c[0] = m3 * m5 - yz * yz;
    c[1] = xz * yz - xy * m5;
    c[2] = xy * yz - xz * m3;
    const det = this.determinant = m0 * c[0] + xy * c[1] + xz * c[2];
    if (!(Math.abs(det) > 0)) return false;
    c[3] = m0 * m5 - xz * xz;
    c[4] = xy * xz - m0 * yz;
    c[5] = m0 * m3 - xy * xy;
    const rx = hold * m[0] - sum[6], ry = hold * m[1] - sum[7], rz = hold * m[2] - sum[8];
    best[0] = (c[0] * rx + c[1] * ry + c[2] * rz) / det;
    best[1] = (c[1] * rx + c[3] * ry + c[4] * rz) / det;
    best[2] = (c[2] * rx + c[4] * ry + c[5] * rz) / det;
    if (!rim[a] && !rim[b]) this.holdVolume(a, b);
    const edge = (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2;
    if (!((best[0] - m[0]) ** 2 + (best[1] - m[1]) ** 2 + (best[2] - m[2]) ** 2 <= 4 * edge)) best.set(m);
    return true;
  }
  /** Moves `best` to where the triangles that change enclose as much as before (Lindstrom & Turk 1998, 4.2). */
  holdVolume(a, b) {
    const { best, middle: m, inverse: c, determinant: det, normal: n } = this;
    const { places: p, corners: corners2, around } = this.skin;
    let gx = 0, gy = 0, gz = 0, volume = 0;
    for (let side2 = 0; side2 < 2; side2++)
      for (const t of around[side2 ? b : a]) {
        if (side2 && this.skin.has(t, a)) continue;
        crossInto(p, corners2, t, n);
        const o = 3 * corners2[3 * t];
        gx += n[0];
        gy += n[1];
        gz += n[2];
        volume += n[0] * (p[o] - m[0]) + n[1] * (p[o + 1] - m[1]) + n[2] * (p[o + 2] - m[2]);
      }
    const sx = (c[0] * gx + c[1] * gy + c[2] * gz) / det, sy = (c[1] * gx + c[3] * gy + c[4] * gz) / det, sz = (c[2] * gx + c[4] * gy + c[5] * gz) / det;
    const along = gx * sx + gy * sy + gz * sz;
    if (!(along > 0)) return;
    const by = (volume - (gx * (best[0] - m[0]) + gy * (best[1] - m[1]) + gz * (best[2] - m[2]))) / along;
    best[0] += by * sx;
    best[1] += by * sy;
    best[2] += by * sz;
  }
  /** Adds planes through the line v u, upright on the triangles beside it. */
  addUprightPlanes(o, v, u) {
    const { normal: n } = this;
    const { places: p, corners: corners2, around } = this.skin;
    const ex = p[3 * u] - p[3 * v], ey = p[3 * u + 1] - p[3 * v + 1], ez = p[3 * u + 2] - p[3 * v + 2];
    for (const t of around[v]) {
      if (!this.skin.has(t, u)) continue;
      crossInto(p, corners2, t, n);
      const nx = ey * n[2] - ez * n[1], ny = ez * n[0] - ex * n[2], nz = ex * n[1] - ey * n[0];
      const l = Math.sqrt(nx * nx + ny * ny + nz * nz);
      if (!(l > 0)) continue;
      const d = -(nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2]) / l;
      this.addPlane(o, nx / l, ny / l, nz / l, d, lineWeight * (ex * ex + ey * ey + ez * ez));
    }
  }
  addPlane(o, nx, ny, nz, d, w) {
    const { quadric } = this;
    quadric[o] += w * nx * nx;
    quadric[o + 1] += w * nx * ny;
    quadric[o + 2] += w * nx * nz;
    quadric[o + 3] += w * ny * ny;
    quadric[o + 4] += w * ny * nz;
    quadric[o + 5] += w * nz * nz;
    quadric[o + 6] += w * nx * d;
    quadric[o + 7] += w * ny * d;
    quadric[o + 8] += w * nz * d;
    quadric[o + 9] += w * d * d;
  }
};

// src/core/mend/collapse/sound-collapse.ts
var mostTurn = 0.3;
var thinnest = 0.02;
var SoundCollapse = class {
  constructor(skin) {
    this.skin = skin;
    this.met = new Int32Array(skin.around.length);
  }
  skin;
  /** The round in which each vertex was last met. */
  met;
  round = 0;
  /** Whether a and b may become one at a place. */
  allows(a, b, at) {
    return this.keepsRing(a, b) && this.keepsTriangles(a, b, at) && this.keepsTriangles(b, a, at);
  }
  /** The link condition (Dey et al. 1999): the ends share as many neighbours as triangles. */
  keepsRing(a, b) {
    const { met, skin } = this;
    const { around, corners: corners2, rim } = skin;
    const round = ++this.round;
    for (const t of around[a]) for (let c = 0; c < 3; c++) met[corners2[3 * t + c]] = round;
    let shared2 = 0;
    const common = /* @__PURE__ */ new Set();
    for (const t of around[b]) {
      if (skin.has(t, a)) shared2++;
      for (let c = 0; c < 3; c++) {
        const v = corners2[3 * t + c];
        if (v !== a && v !== b && met[v] === round) common.add(v);
      }
    }
    if (shared2 < 1 || shared2 > 2 || common.size !== shared2) return false;
    if (rim[a] && rim[b] && shared2 !== 1) return false;
    return shared2 !== 2 || around[a].length + around[b].length - 2 * shared2 >= 3;
  }
  /** Whether the triangles round `from` bear that it moves, those apart that `other` has too. */
  keepsTriangles(from, other, at) {
    const { places: p, corners: corners2, around } = this.skin;
    const x = at[0], y = at[1], z = at[2];
    for (const t of around[from]) {
      const i = corners2[3 * t] === from ? 3 * t : corners2[3 * t + 1] === from ? 3 * t + 1 : 3 * t + 2;
      const u = corners2[nextIn(i)], w = corners2[nextIn(nextIn(i))];
      if (u === other || w === other) continue;
      const ux = p[3 * u], uy = p[3 * u + 1], uz = p[3 * u + 2];
      const wx = p[3 * w] - ux, wy = p[3 * w + 1] - uy, wz = p[3 * w + 2] - uz;
      const ox = p[3 * from] - ux, oy = p[3 * from + 1] - uy, oz = p[3 * from + 2] - uz;
      const qx = x - ux, qy = y - uy, qz = z - uz;
      const ax = wy * oz - wz * oy, ay = wz * ox - wx * oz, az = wx * oy - wy * ox;
      const bx = wy * qz - wz * qy, by = wz * qx - wx * qz, bz = wx * qy - wy * qx;
      const la = Math.sqrt(ax * ax + ay * ay + az * az), lb = Math.sqrt(bx * bx + by * by + bz * bz);
      if (!(lb > 0)) return false;
      if (la > 0 && ax * bx + ay * by + az * bz < mostTurn * la * lb) return false;
      const base = wx * wx + wy * wy + wz * wz;
      const far2 = Math.max(base, qx * qx + qy * qy + qz * qz, (qx - wx) ** 2 + (qy - wy) ** 2 + (qz - wz) ** 2);
      const before = Math.max(base, ox * ox + oy * oy + oz * oz, (ox - wx) ** 2 + (oy - wy) ** 2 + (oz - wz) ** 2);
      if (lb < thinnest * far2 && lb / far2 < 0.5 * (la / before)) return false;
    }
    return true;
  }
};

// src/core/mend/collapse/collapse.ts
var stillHolds = (now, told) => !(now > 1.02 * told + 1e-30);
function collapseEdges(mesh2, aim, work = quiet) {
  const begin = triangleCount(mesh2);
  if (begin <= aim.triangles) return mesh2;
  const skin = new CollapsingSkin(mesh2, aim);
  const costs = new EdgePrice(skin);
  const sound = new SoundCollapse(skin);
  const heap = new EdgeHeap();
  const { stamps, fixed: fixed2, around } = skin;
  const stampOf = (a, b) => stamps[a] + stamps[b];
  const offer = (a, b) => {
    const cost = costs.price(a, b);
    if (cost < Infinity) heap.push(cost, a, b, stampOf(a, b));
  };
  for (let h = 0; h < skin.corners.length; h++) {
    const a = skin.corners[h], b = skin.corners[nextIn(h)];
    if (a < b || skin.twin[h] < 0) offer(a, b);
  }
  let done = 0;
  while (skin.alive > aim.triangles && heap.pop()) {
    const { cost, a, b, stamp } = heap.top;
    if (!around[a].length || !around[b].length) continue;
    const now = costs.price(a, b);
    if (stampOf(a, b) !== stamp || !stillHolds(now, cost)) {
      if (!(now < Infinity) || !skin.sharesTriangle(a, b)) continue;
      if (heap.size && now > 1.02 * cost) {
        heap.push(now, a, b, stampOf(a, b));
        continue;
      }
    }
    if (!sound.allows(a, b, costs.best)) continue;
    if ((++done & 2047) === 0) {
      checkStop(work);
      work.progress((begin - skin.alive) / Math.max(1, begin - aim.triangles), "simplifying");
    }
    const keep = fixed2[b] && !fixed2[a] ? b : a;
    skin.merge(keep, keep === a ? b : a, costs.best);
    const ring = skin.ring(keep);
    for (const v of ring) costs.refresh(v);
    for (const v of ring) if (v !== keep) offer(keep, v);
  }
  return skin.mesh();
}

// src/core/mesh/orient.ts
function pieceFacts(mesh2, topology = buildTopology(mesh2)) {
  const { piece, count } = findPieces(mesh2, topology);
  const sizes = new Uint32Array(count);
  for (const i of piece) sizes[i]++;
  const triangles = Array.from(sizes, (s) => new Uint32Array(s));
  const fill = new Uint32Array(count);
  piece.forEach((i, t) => {
    triangles[i][fill[i]++] = t;
  });
  const sound = new Array(count).fill(true);
  for (let h = 0; h < topology.twin.length; h++)
    if (topology.twin[h] === open || topology.twin[h] === shared || topology.sameWay[h])
      sound[piece[triangleOf(h)]] = false;
  const p = mesh2.positions, k = mesh2.triangles;
  const volume = triangles.map((list) => {
    const o = 3 * k[3 * list[0]];
    let s = 0;
    for (const t of list) {
      const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
      const ax = p[a] - p[o], ay = p[a + 1] - p[o + 1], az = p[a + 2] - p[o + 2];
      const bx = p[b] - p[o], by = p[b + 1] - p[o + 1], bz = p[b + 2] - p[o + 2];
      const cx = p[c] - p[o], cy = p[c + 1] - p[o + 1], cz = p[c + 2] - p[o + 2];
      s += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    }
    return s / 6;
  });
  const insideOut = new Array(count).fill(false);
  let search = null;
  for (let i = 0; i < count; i++) {
    if (!sound[i] || volume[i] >= 0) continue;
    if (count === 1) {
      insideOut[i] = true;
      continue;
    }
    search ??= new NearestInGrid(mesh2);
    insideOut[i] = !insideOther(mesh2, search, piece, sound, i, triangles[i]);
  }
  return { triangles, volume, sound, insideOut };
}
function insideOther(mesh2, search, piece, sound, own2, list) {
  const [a, b, c] = corners(mesh2, list[0]);
  const from = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3];
  let votes = 0;
  for (const d of [
    [0.5377, 0.7321, 0.4182],
    [-0.3141, 0.2718, 0.9094],
    [0.1123, -0.9581, -0.2635]
  ]) {
    if (search.crossings(from, normalize(d), (t) => piece[t] !== own2 && sound[piece[t]]) % 2) votes++;
  }
  return votes >= 2;
}
function faceOutward(input, work = quiet) {
  const topology = buildTopology(input);
  const n = triangleCount(input);
  const flip = new Int8Array(n).fill(-1);
  const stack = [];
  const conflicts = [];
  for (let s = 0; s < n; s++) {
    if (flip[s] >= 0) continue;
    flip[s] = 0;
    stack.push(s);
    while (stack.length) {
      const t = stack.pop();
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h];
        if (w < 0) continue;
        const u = triangleOf(w);
        const want = flip[t] ^ topology.sameWay[h];
        if (flip[u] < 0) {
          flip[u] = want;
          stack.push(u);
        } else if (flip[u] !== want && h < w) conflicts.push(h);
      }
    }
  }
  checkStop(work);
  let positions = input.positions;
  const triangles = new Uint32Array(input.triangles);
  if (conflicts.length) {
    const extra = [];
    for (const h of conflicts) {
      const t = triangleOf(h);
      for (const i of [h, 3 * t + (h - 3 * t + 1) % 3]) {
        const v = triangles[i];
        triangles[i] = input.positions.length / 3 + extra.length / 3;
        const from = v < input.positions.length / 3 ? input.positions.subarray(3 * v, 3 * v + 3) : extra.slice(3 * v - input.positions.length, 3 * v - input.positions.length + 3);
        extra.push(from[0], from[1], from[2]);
      }
    }
    positions = new Float32Array(input.positions.length + extra.length);
    positions.set(input.positions);
    positions.set(extra, input.positions.length);
  }
  const turn = (t) => {
    const b = triangles[3 * t + 1];
    triangles[3 * t + 1] = triangles[3 * t + 2];
    triangles[3 * t + 2] = b;
  };
  for (let t = 0; t < n; t++) if (flip[t] === 1) turn(t);
  const mesh2 = { positions, triangles };
  const facts = pieceFacts(mesh2);
  let search = null;
  const turnedNow = Uint8Array.from(flip, (f) => f === 1 ? 1 : 0);
  facts.triangles.forEach((list, i) => {
    checkStop(work);
    let wrong = facts.insideOut[i];
    if (!facts.sound[i]) {
      search ??= new NearestInGrid({ positions, triangles });
      wrong = facesInward(mesh2, search, list, facts.volume[i]);
    }
    if (wrong)
      for (const t of list) {
        turn(t);
        turnedNow[t] ^= 1;
      }
  });
  return { mesh: mesh2, turned: turnedNow.reduce((s, f) => s + f, 0), cut: conflicts.length };
}
function facesInward(mesh2, search, list, volume) {
  const step = Math.max(1, Math.floor(list.length / 40));
  let score = 0;
  for (let i = 0; i < list.length; i += step) {
    const t = list[i];
    const n = normalize(crossOf(mesh2, t));
    if (n[0] === 0 && n[1] === 0 && n[2] === 0) continue;
    const [a, b, c] = corners(mesh2, t);
    const m = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3];
    const hits = (d) => search.crossings(m, d, (other) => other !== t) % 2;
    score += hits([-n[0], -n[1], -n[2]]) - hits(n);
  }
  return score !== 0 ? score < 0 : volume < 0;
}

// src/core/mend/split-non-manifold.ts
function splitNonManifold(mesh2, { rims = true } = {}) {
  const first = stitchAndSplit(mesh2, rims);
  let out = first.mesh;
  for (let round = 0; round < 24; round++) {
    const t = buildTopology(out);
    if (!t.nonManifoldEdges) break;
    out = stitchAndSplit(freeEdges(out, t), rims).mesh;
  }
  return { ...first, mesh: out };
}
function sharedEdges(mesh2, topology) {
  const groups = /* @__PURE__ */ new Map();
  for (let h = 0; h < topology.twin.length; h++) {
    if (topology.twin[h] !== shared) continue;
    const a = mesh2.triangles[h], b = mesh2.triangles[nextIn(h)];
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const list = groups.get(key);
    if (list) list.push(h);
    else groups.set(key, [h]);
  }
  return [...groups.values()];
}
function freeEdges(mesh2, topology) {
  const triangles = Array.from(mesh2.triangles);
  const extra = [];
  const twin = Int32Array.from(topology.twin);
  const touched = /* @__PURE__ */ new Set();
  const add2 = (p) => {
    extra.push(p[0], p[1], p[2]);
    return vertexCount(mesh2) + extra.length / 3 - 1;
  };
  for (const group of sharedEdges(mesh2, topology)) {
    if (group.some((h) => touched.has(triangleOf(h)))) continue;
    for (const h of group) {
      twin[h] = -1;
      touched.add(triangleOf(h));
    }
    stitch(mesh2, group, twin);
    const pairs = group.filter((h) => twin[h] > h).map((h) => [h, twin[h]]), alone = group.filter((h) => twin[h] < 0);
    const p = vertex(mesh2, mesh2.triangles[group[0]]), q = vertex(mesh2, mesh2.triangles[nextIn(group[0])]);
    for (const pair of pairs.slice(1)) {
      const m = add2([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2]);
      for (const h of pair) {
        triangles.push(m, mesh2.triangles[nextIn(h)], mesh2.triangles[prevIn(h)]);
        triangles[nextIn(h)] = m;
      }
    }
    for (const h of pairs.length ? alone : alone.slice(1))
      for (const c of [h, nextIn(h)]) triangles[c] = add2(vertex(mesh2, mesh2.triangles[c]));
  }
  const positions = new Float32Array(mesh2.positions.length + extra.length);
  positions.set(mesh2.positions);
  positions.set(extra, mesh2.positions.length);
  return { positions, triangles: Uint32Array.from(triangles) };
}
function stitchAndSplit(mesh2, rims) {
  const topology = buildTopology(mesh2);
  const onRim = new Uint8Array(vertexCount(mesh2));
  if (!rims) {
    for (let h = 0; h < topology.twin.length; h++)
      if (topology.twin[h] === -1) onRim[mesh2.triangles[h]] = onRim[mesh2.triangles[nextIn(h)]] = 1;
    for (let h = 0; h < topology.twin.length; h++)
      if (topology.twin[h] === shared) onRim[mesh2.triangles[h]] = onRim[mesh2.triangles[nextIn(h)]] = 0;
  }
  const twin = Int32Array.from(topology.twin);
  if (topology.nonManifoldEdges) {
    for (const group of sharedEdges(mesh2, topology)) {
      for (const h of group) twin[h] = -1;
      stitch(mesh2, group, twin);
    }
  }
  const fans = cornerFans(mesh2, { ...topology, twin });
  const first = new Int32Array(vertexCount(mesh2)).fill(-1);
  const copyOf = /* @__PURE__ */ new Map();
  const extra = [];
  const triangles = new Uint32Array(mesh2.triangles);
  for (let i = 0; i < triangles.length; i++) {
    const v = mesh2.triangles[i], f = fans.fan[i];
    if (first[v] < 0) first[v] = f;
    if (first[v] === f || onRim[v]) continue;
    let copy = copyOf.get(f);
    if (copy === void 0) {
      copy = vertexCount(mesh2) + extra.length / 3;
      copyOf.set(f, copy);
      extra.push(...vertex(mesh2, v));
    }
    triangles[i] = copy;
  }
  if (!extra.length) return { mesh: mesh2, edges: topology.nonManifoldEdges, vertices: 0 };
  const positions = new Float32Array(mesh2.positions.length + extra.length);
  positions.set(mesh2.positions);
  positions.set(extra, mesh2.positions.length);
  return { mesh: { positions, triangles }, edges: topology.nonManifoldEdges, vertices: fans.manyFans.length };
}
function stitch(mesh2, group, twin) {
  const a0 = mesh2.triangles[group[0]], b0 = mesh2.triangles[nextIn(group[0])];
  const low = Math.min(a0, b0), high = Math.max(a0, b0);
  const from = vertex(mesh2, low);
  const axis = normalize(sub(vertex(mesh2, high), from));
  let x = null, y = [0, 0, 0];
  const spokes = group.map((h) => {
    const c = sub(vertex(mesh2, mesh2.triangles[prevIn(h)]), from);
    const flat = normalize(sub(c, [axis[0] * dot(c, axis), axis[1] * dot(c, axis), axis[2] * dot(c, axis)]));
    if (!x) {
      x = flat;
      y = cross(axis, x);
    }
    return { h, forward: mesh2.triangles[h] === low, angle: Math.atan2(dot(flat, y), dot(flat, x)) };
  }).sort((p, q) => p.angle - q.angle || p.h - q.h);
  const used = /* @__PURE__ */ new Set();
  for (let i = 0; i < spokes.length; i++) {
    if (spokes[i].forward || used.has(i)) continue;
    for (let k = 1; k < spokes.length; k++) {
      const j = (i + k) % spokes.length;
      if (used.has(j)) continue;
      if (!spokes[j].forward) break;
      used.add(i);
      used.add(j);
      twin[spokes[i].h] = spokes[j].h;
      twin[spokes[j].h] = spokes[i].h;
      break;
    }
  }
  for (let i = 0; i < spokes.length; i++) {
    if (used.has(i)) continue;
    const j = spokes.findIndex((s, k) => k > i && !used.has(k) && s.forward !== spokes[i].forward);
    if (j < 0) continue;
    used.add(i);
    used.add(j);
    twin[spokes[i].h] = spokes[j].h;
    twin[spokes[j].h] = spokes[i].h;
  }
}

// src/core/mend/tidy.ts
var cleanUp = (mesh2, rims = true) => splitNonManifold(removeDegenerate(mesh2).mesh, { rims }).mesh;
function tidy2(mesh2, work = quiet) {
  const clean = cleanUp(mesh2);
  checkStop(work);
  return faceOutward(clean, work).mesh;
}

// src/core/mend/untangle.ts
function untangle(input, { rounds = 8, folds = false, known } = {}, work = quiet) {
  let mesh2 = input;
  let before = -1, removed = 0, firstNew = 0;
  let best = input, bestCount = Infinity;
  for (let round = 0; round < rounds; round++) {
    const part = span2(work, round / rounds, (round + 1) / rounds);
    checkStop(work);
    const crossings = round > 0 ? crossingsFrom(mesh2, firstNew) : known ?? findSelfCrossings(mesh2, span2(part, 0, 0.6));
    const folded = folds ? findFolded(mesh2, buildTopology(mesh2)) : [];
    const count = crossings.length / 2 + folded.length;
    if (before < 0) before = count;
    if (count < bestCount) {
      best = mesh2;
      bestCount = count;
    }
    if (!count || round === rounds - 1) break;
    part.progress(0.6, `untangling ${count} places`);
    let flags = new Uint8Array(triangleCount(mesh2));
    for (const t of crossings) flags[t] = 1;
    for (const t of folded) flags[t] = 1;
    flags = growTriangles(mesh2, flags, 1 + Math.floor(round / 2));
    const refilled = cutAndRefill(
      mesh2,
      flags,
      { how: round < rounds - 3 ? "smooth" : "flat", crumbs: 1e-3 },
      span2(part, 0.6, 1)
    );
    if (!refilled) break;
    removed += refilled.removed;
    mesh2 = refilled.mesh;
    firstNew = refilled.firstNew;
  }
  return { mesh: best, before, after: bestCount, removed };
}

// src/core/mend/keep-sound.ts
function faultyTriangles(mesh2, t) {
  const out = /* @__PURE__ */ new Set([...findFolded(mesh2, t), ...findDegenerate(mesh2)]);
  for (let h = 0; h < t.twin.length; h++) if (t.twin[h] === -2 || t.sameWay[h]) out.add(triangleOf(h));
  const bad = new Set(cornerFans(mesh2, t).manyFans);
  if (bad.size) {
    for (let c = 0; c < mesh2.triangles.length; c++) if (bad.has(mesh2.triangles[c])) out.add(triangleOf(c));
  }
  return out;
}
var own = 5e-3;
var reach = 6;
var placeKey = (m, v) => `${m.positions[3 * v]} ${m.positions[3 * v + 1]} ${m.positions[3 * v + 2]}`;
function rimVertices(mesh2) {
  const { twin } = buildTopology(mesh2);
  const out = /* @__PURE__ */ new Set();
  for (let h = 0; h < twin.length; h++) if (twin[h] < 0) out.add(mesh2.triangles[h]).add(mesh2.triangles[nextIn(h)]);
  return out;
}
function rimPlaces(mesh2) {
  const out = /* @__PURE__ */ new Map();
  for (const v of rimVertices(mesh2)) {
    const key = placeKey(mesh2, v);
    if (out.has(key)) return null;
    out.set(key, v);
  }
  return out;
}
function rejoin(rest, places2, part, free) {
  const both = concatMeshes([rest, part]);
  const base = rest.positions.length / 3;
  const to = /* @__PURE__ */ new Map();
  for (const v of rimVertices(part)) {
    const key = placeKey(part, v), other = places2.get(key);
    if (other !== void 0) to.set(base + v, other);
    else if (!free.has(key)) return null;
  }
  const joined2 = { positions: both.positions, triangles: both.triangles.map((v) => to.get(v) ?? v) };
  return keepTriangles(joined2, new Uint8Array(triangleCount(joined2)).fill(1)).mesh;
}
function keepSound(made, work = quiet) {
  const topology = buildTopology(made);
  const crossings = findSelfCrossings(made, span2(work, 0, 0.7));
  const faulty = faultyTriangles(made, topology);
  for (const t of crossings) faulty.add(t);
  if (!faulty.size || faulty.size > 20 + own * triangleCount(made)) return made;
  const seeds = new Uint8Array(triangleCount(made));
  for (const t of faulty) seeds[t] = 1;
  const near = growTriangles(made, seeds, reach);
  const part = keepTriangles(made, near).mesh, rest = keepTriangles(
    made,
    near.map((f) => 1 - f)
  ).mesh;
  const places2 = rimPlaces(rest);
  if (!places2) return made;
  const free = /* @__PURE__ */ new Set();
  for (let h = 0; h < topology.twin.length; h++)
    if (topology.twin[h] === -1)
      for (const v of [made.triangles[h], made.triangles[nextIn(h)]]) free.add(placeKey(made, v));
  let best = made, least = faulty.size, mesh2 = part;
  for (let round = 0; round < 3 && least; round++) {
    checkStop(work);
    const part2 = span2(work, 0.7 + 0.1 * round, 0.8 + 0.1 * round);
    mesh2 = untangle(cleanUp(mesh2), { folds: true, rounds: 6 }, span2(part2, 0, 0.8)).mesh;
    const opened = (m) => (rim) => rim.vertices.every((v) => {
      const k = placeKey(m, v);
      return !places2.has(k) && !free.has(k);
    });
    mesh2 = cleanUp(closeHoles(mesh2, { how: "flat", accept: opened(mesh2) }, span2(part2, 0.8, 1)).mesh);
    const joined2 = rejoin(rest, places2, mesh2, free);
    if (!joined2) continue;
    const t = buildTopology(joined2);
    if (t.openEdges > topology.openEdges) continue;
    const bad = faultyTriangles(joined2, t);
    for (const c of crossingsFrom(joined2, triangleCount(rest))) bad.add(c);
    if (bad.size < least) {
      best = joined2;
      least = bad.size;
    }
  }
  return best;
}

// src/core/mend/simplify.ts
function sharpVertices(mesh2, degrees) {
  const t = buildTopology(mesh2);
  const normals = triangleNormals(mesh2);
  const limit = Math.cos(degrees * Math.PI / 180);
  const out = new Uint8Array(mesh2.positions.length / 3);
  for (let h = 0; h < t.twin.length; h++) {
    const w = t.twin[h];
    if (w <= h) continue;
    const a = 3 * triangleOf(h), b = 3 * triangleOf(w);
    if (normals[a] * normals[b] + normals[a + 1] * normals[b + 1] + normals[a + 2] * normals[b + 2] >= limit) continue;
    out[mesh2.triangles[h]] = out[mesh2.triangles[nextIn(h)]] = 1;
  }
  return out;
}
var roughly = 3;
var mostWithCare = 4e5;
var mostTries = 8;
var raise = 1.6;
var leastShare = 0.7;
var farthest = 0.05;
function faultsMade(mesh2) {
  const t = buildTopology(mesh2);
  return t.nonManifoldEdges + cornerFans(mesh2, t).manyFans.length + findFolded(mesh2, t).length + findSelfCrossings(mesh2).length / 2;
}
async function toCount(mesh2, target, keepEdges, lockRims, work) {
  const n = triangleCount(mesh2);
  let start = mesh2;
  if (n > 1.3 * roughly * target) {
    const locked = keepEdges === void 0 ? void 0 : sharpVertices(mesh2, keepEdges);
    const held = locked ? locked.reduce((s, v) => s + v, 0) : 0;
    if (!locked || 4 * held < roughly * target || n > mostWithCare) {
      const { mesh: raw } = await simplifyQuadric(mesh2, {
        triangles: roughly * target,
        error: 10 * diagonal(meshBounds(mesh2)),
        locked: 4 * held < roughly * target ? locked : void 0,
        lockRims
      });
      checkStop(work);
      start = cleanUp(raw);
      if (n <= mostWithCare && buildTopology(start).openEdges > buildTopology(mesh2).openEdges) start = mesh2;
    }
  }
  return collapseEdges(start, { triangles: target, lockRims, keepEdges }, work);
}
async function simplify(mesh2, aim, work = quiet) {
  const n = triangleCount(mesh2);
  if (!n) throw new StepError("empty", "There is no triangle to simplify.");
  work.progress(0.05, "simplifying");
  const samples = Math.min(6e4, Math.max(1e4, n >> 5));
  let original;
  const measure = (out, part) => deviation2(
    out,
    mesh2,
    { samples, toFirst: plainReferenceOf(out), toSecond: original ??= plainReferenceOf(mesh2) },
    part
  );
  if (n < 8) return { mesh: mesh2, deviation: measure(mesh2, work), tries: 0 };
  return aim.deviation === void 0 ? simplifyToCount(mesh2, aim, measure, work) : simplifyWithin(mesh2, aim, aim.deviation, measure, work);
}
async function simplifyToCount(mesh2, aim, measure, work) {
  const lockRims = aim.keepRims ?? true;
  const n = triangleCount(mesh2);
  let target = Math.max(4, aim.triangles ?? n);
  let best = null;
  const size2 = diagonal(meshBounds(mesh2));
  const open2 = buildTopology(mesh2).openEdges;
  for (let tries2 = 1; tries2 <= mostTries; tries2++) {
    const each = span2(work, tries2 === 1 ? 0.05 : 0.6 + 0.08 * (tries2 - 2), tries2 === 1 ? 0.6 : 0.6 + 0.08 * (tries2 - 1));
    const raw = await toCount(mesh2, target, aim.keepEdges, lockRims, span2(each, 0, 0.5));
    const out2 = keepSound(raw, span2(each, 0.5, 0.7));
    const faults = faultsMade(out2) + Math.max(0, buildTopology(out2).openEdges - open2);
    const d2 = measure(out2, span2(each, 0.7, 1));
    const fits = triangleCount(out2) >= leastShare * triangleCount(raw) && d2.both.max <= farthest * size2;
    const harm = fits ? faults : 1e6 + faults + 1e6 * (d2.both.max / size2);
    if (!best || harm < best.harm) best = { mesh: out2, deviation: d2, tries: tries2, harm };
    if (!faults && fits || raise * target > n) break;
    target = Math.ceil(raise * target);
  }
  const { mesh: out, deviation: d, tries } = best;
  return { mesh: out, deviation: d, tries };
}
async function simplifyWithin(mesh2, aim, bound, measure, work) {
  const locked = aim.keepEdges !== void 0 ? sharpVertices(mesh2, aim.keepEdges) : void 0;
  const lockRims = aim.keepRims ?? true;
  let low = 0, high = 4 * bound;
  let best = null;
  for (let tries = 1; tries <= 8; tries++) {
    const error = tries === 1 ? bound : (low + high) / 2;
    const { mesh: raw } = await simplifyQuadric(mesh2, { triangles: aim.triangles ?? 4, error, locked, lockRims });
    checkStop(work);
    const out = keepSound(raw, span2(work, (tries - 0.5) / 9, tries / 9));
    const d = measure(out, span2(work, tries / 9, (tries + 1) / 9));
    if (d.both.max <= bound) {
      if (!best || triangleCount(out) < triangleCount(best.mesh)) best = { mesh: out, deviation: d, tries };
      low = error;
      if (d.both.max < 0.3 * bound) high = Math.max(high, 8 * error);
    } else high = error;
    if (best && d.both.max <= bound && d.both.max > 0.85 * bound) break;
  }
  return best ?? { mesh: mesh2, deviation: measure(mesh2, span2(work, 0.9, 1)), tries: 8 };
}

// src/core/mesh/weld.ts
var weldShare = 1e-5;
var mix = (h) => {
  h = Math.imul(h ^ h >>> 15, 739982445);
  h = Math.imul(h ^ h >>> 12, 695872825);
  return h ^ h >>> 15;
};
function mapped(triangles, map) {
  const out = new Uint32Array(triangles.length);
  let o = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = map[triangles[t]], b = map[triangles[t + 1]], c = map[triangles[t + 2]];
    if (a === b || b === c || a === c) continue;
    out[o++] = a;
    out[o++] = b;
    out[o++] = c;
  }
  return out.slice(0, o);
}
function weldMesh(mesh2, within = weldShare * diagonal(meshBounds(mesh2))) {
  const n = vertexCount(mesh2);
  const p = mesh2.positions;
  const cell = Math.max(16 * within, 1e-30);
  const { min } = meshBounds(mesh2);
  let capacity = 1024;
  while (capacity < 2 * n) capacity *= 2;
  const mask = capacity - 1;
  const head = new Int32Array(capacity).fill(-1);
  const next = new Int32Array(n).fill(-1);
  const map = new Uint32Array(n);
  const key = (i, j, k) => mix(Math.imul(i | 0, 2654435761) ^ Math.imul(j | 0, 2246822519) ^ Math.imul(k | 0, 3266489917)) & mask;
  const limit = within * within;
  const edge = 0.0626;
  const kept = [];
  for (let v = 0; v < n; v++) {
    const x = p[3 * v], y = p[3 * v + 1], z = p[3 * v + 2];
    const fx = (x - min[0]) / cell, fy = (y - min[1]) / cell, fz = (z - min[2]) / cell;
    const i = Math.floor(fx), j = Math.floor(fy), k = Math.floor(fz);
    const di = fx - i < edge ? -1 : fx - i > 1 - edge ? 1 : 0, dj = fy - j < edge ? -1 : fy - j > 1 - edge ? 1 : 0, dk = fz - k < edge ? -1 : fz - k > 1 - edge ? 1 : 0;
    let found = -1;
    for (let c = 0; c < 8 && found < 0; c++) {
      if (c & 1 && !di || c & 2 && !dj || c & 4 && !dk) continue;
      for (let u = head[key(i + (c & 1 ? di : 0), j + (c & 2 ? dj : 0), k + (c & 4 ? dk : 0))]; u >= 0; u = next[u]) {
        const dx = p[3 * u] - x, dy = p[3 * u + 1] - y, dz = p[3 * u + 2] - z;
        if (dx * dx + dy * dy + dz * dz <= limit) {
          found = u;
          break;
        }
      }
    }
    if (found >= 0) map[v] = map[found];
    else {
      map[v] = kept.length;
      kept.push(v);
      const h = key(i, j, k);
      next[v] = head[h];
      head[h] = v;
    }
  }
  const positions = new Float32Array(3 * kept.length);
  kept.forEach((v, i) => positions.set(p.subarray(3 * v, 3 * v + 3), 3 * i));
  return { mesh: { positions, triangles: mapped(mesh2.triangles, map) }, map, joined: n - kept.length };
}

// src/core/mesh/check-up.ts
var listed = 200;
var figure = (v, digits = 6) => Number(v.toFixed(digits));
var round3 = (v) => [figure(v[0]), figure(v[1]), figure(v[2])];
var middle = (mesh2, t) => {
  const [a, b, c] = corners(mesh2, t);
  return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3];
};
var reachOf = (mesh2, t) => {
  const [a, b, c] = corners(mesh2, t);
  return Math.max(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]), Math.hypot(a[0] - c[0], a[1] - c[1], a[2] - c[2]));
};
function reachOfLine(line, [x, y, z]) {
  let most = 0;
  for (let i = 0; i < line.length; i += 3)
    most = Math.max(most, Math.hypot(line[i] - x, line[i + 1] - y, line[i + 2] - z));
  return figure(most);
}
var checkUp = (mesh2, work = quiet) => inspect(mesh2, work).checkUp;
function holesOf(mesh2, topology, rims) {
  const scraps = findScraps(mesh2, topology, rims);
  return rims.map((rim, r2) => {
    let length2 = 0;
    const centre = [0, 0, 0];
    const line = [];
    rim.halfEdges.forEach((h, i) => {
      const a = vertex(mesh2, mesh2.triangles[h]), b = vertex(mesh2, mesh2.triangles[nextIn(h)]);
      const l = Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
      length2 += l;
      for (let k = 0; k < 3; k++) centre[k] += l * (a[k] + b[k]) / 2;
      line.push(...vertex(mesh2, rim.vertices[i]));
    });
    if (rim.closed) line.push(...line.slice(0, 3));
    const c = length2 > 0 ? [centre[0] / length2, centre[1] / length2, centre[2] / length2] : vertex(mesh2, rim.vertices[0]);
    return {
      edges: rim.halfEdges.length,
      length: figure(length2),
      centre: round3(c),
      line: line.map((v) => figure(v)),
      ...scraps?.isBorder(r2) ? { scrap: true } : {}
    };
  }).sort((a, b) => b.length - a.length);
}
function nonManifoldVertices(mesh2, topology) {
  const fans = cornerFans(mesh2, topology);
  const onBadEdge = /* @__PURE__ */ new Set();
  if (topology.nonManifoldEdges) {
    for (let h = 0; h < topology.twin.length; h++)
      if (topology.twin[h] === -2) {
        onBadEdge.add(mesh2.triangles[h]);
        onBadEdge.add(mesh2.triangles[nextIn(h)]);
      }
  }
  return fans.manyFans.filter((v) => !onBadEdge.has(v));
}
function inspect(mesh2, work = quiet) {
  work.progress(0, "checking up");
  const topology = buildTopology(mesh2);
  const faults = [];
  const place = (kind, triangles, group = 1) => {
    for (let i = 0; i < triangles.length && i < listed * group; i += group) {
      const list = triangles.slice(i, i + group);
      faults.push({ kind, at: round3(middle(mesh2, list[0])), reach: figure(reachOf(mesh2, list[0])), triangles: list });
    }
  };
  const rims = findRims(mesh2, topology);
  const holes = holesOf(mesh2, topology, rims);
  for (const h of [...holes.filter((r2) => !r2.scrap).slice(0, listed), ...holes.filter((r2) => r2.scrap).slice(0, listed)])
    faults.push({
      kind: h.scrap ? "scrap in a hole" : "hole",
      at: h.centre,
      reach: reachOfLine(h.line, h.centre),
      length: h.length,
      line: h.line
    });
  for (const h of topology.nonManifold.slice(0, listed)) {
    const a = vertex(mesh2, mesh2.triangles[h]), b = vertex(mesh2, mesh2.triangles[nextIn(h)]);
    faults.push({
      kind: "non-manifold edge",
      at: round3([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]),
      reach: Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]),
      line: [...a, ...b]
    });
  }
  const badVertices = nonManifoldVertices(mesh2, topology);
  for (const v of badVertices.slice(0, listed))
    faults.push({ kind: "non-manifold vertex", at: round3(vertex(mesh2, v)), reach: 0 });
  if (topology.flippedEdges) {
    let count = 0;
    for (let h = 0; h < topology.twin.length && count < listed; h++) {
      if (topology.sameWay[h] && topology.twin[h] > h) {
        place("flipped neighbours", [triangleOf(h)]);
        count++;
      }
    }
  }
  work.progress(0.15, "checking pieces");
  const pieces = pieceFacts(mesh2, topology);
  pieces.insideOut.forEach((wrong, i) => {
    if (wrong) place("inside-out piece", [pieces.triangles[i][0]]);
  });
  const degenerate = findDegenerate(mesh2);
  const duplicates = findDuplicates(mesh2);
  const folded = findFolded(mesh2, topology);
  place("degenerate", degenerate);
  place("duplicate", duplicates);
  place("fold", folded);
  work.progress(0.3, "looking for crossings");
  const crossings = findSelfCrossings(mesh2, span2(work, 0.3, 1));
  place("crossing", Array.from(crossings.subarray(0, 2 * listed)), 2);
  const open1 = topology.openEdges;
  const facts = {
    triangles: triangleCount(mesh2),
    vertices: vertexCount(mesh2),
    pieces: pieces.triangles.length,
    size: round3(boundsSize(meshBounds(mesh2))),
    closed: triangleCount(mesh2) > 0 && open1 === 0 && topology.nonManifoldEdges === 0,
    openEdges: open1,
    holes: holes.map(({ edges, length: length2, centre, scrap }) => ({ edges, length: length2, centre, ...scrap ? { scrap } : {} })),
    nonManifoldEdges: topology.nonManifoldEdges,
    nonManifoldVertices: badVertices.length,
    flippedEdges: topology.flippedEdges,
    insideOutPieces: pieces.insideOut.filter(Boolean).length,
    degenerate: degenerate.length,
    duplicates: duplicates.length,
    folded: folded.length,
    selfCrossings: crossings.length / 2,
    volume: figure(meshVolume(mesh2)),
    area: figure(meshArea(mesh2))
  };
  const faultsListed = {};
  for (const f of faults) faultsListed[f.kind] = (faultsListed[f.kind] ?? 0) + 1;
  return { checkUp: { facts, faults, faultsListed }, crossings };
}
var holeCount = (f) => f.holes.filter((h) => !h.scrap).length;
function faultCount(f) {
  return f.openEdges + f.nonManifoldEdges + f.nonManifoldVertices + f.flippedEdges + f.insideOutPieces + f.degenerate + f.duplicates + f.folded + f.selfCrossings;
}
function faultWords(f) {
  const n = (count, one, many2 = `${one}s`) => count ? [`${count.toLocaleString("en").replaceAll(",", " ")} ${count === 1 ? one : many2}`] : [];
  const words = [
    ...n(holeCount(f), "hole"),
    ...n(f.holes.length - holeCount(f), "scrap in a hole", "scraps in holes"),
    ...n(f.nonManifoldEdges, "non-manifold edge"),
    ...n(f.nonManifoldVertices, "non-manifold vertex", "non-manifold vertices"),
    ...n(f.flippedEdges, "flipped edge"),
    ...n(f.insideOutPieces, "inside-out piece"),
    ...n(f.degenerate, "degenerate triangle"),
    ...n(f.duplicates, "duplicate triangle"),
    ...n(f.folded, "fold"),
    ...n(f.selfCrossings, "self-crossing")
  ];
  return words.length ? words.join(", ") : "nothing";
}

// src/core/gauge/winding.ts
var leafSize3 = 4;
var far = 2.2;
var WindingNumber = class {
  constructor(mesh2) {
    this.mesh = mesh2;
    this.tree = buildBoxTree(mesh2);
    const { order, leaves, boxes } = this.tree;
    const { positions: p, triangles: k } = mesh2;
    const first = leaves - 1;
    const nodes = this.nodes = new Float64Array(7 * (2 * leaves - 1));
    const weight = new Float64Array(2 * leaves - 1);
    for (let l = 0; l < leaves; l++) {
      const o = 7 * (first + l);
      for (let i = l * leafSize3; i < Math.min(order.length, (l + 1) * leafSize3); i++) {
        const a = 3 * k[3 * order[i]], b = 3 * k[3 * order[i] + 1], c = 3 * k[3 * order[i] + 2];
        const ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2], vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
        const nx = (uy * vz - uz * vy) / 2, ny = (uz * vx - ux * vz) / 2, nz = (ux * vy - uy * vx) / 2;
        const area = Math.sqrt(nx * nx + ny * ny + nz * nz);
        weight[first + l] += area;
        for (let a3 = 0; a3 < 3; a3++) nodes[o + a3] += area * (p[a + a3] + p[b + a3] + p[c + a3]) / 3;
        nodes[o + 3] += nx;
        nodes[o + 4] += ny;
        nodes[o + 5] += nz;
      }
    }
    for (let i = first - 1; i >= 0; i--) {
      const o = 7 * i, l = 7 * (2 * i + 1), r2 = l + 7;
      weight[i] = weight[2 * i + 1] + weight[2 * i + 2];
      for (let a = 0; a < 6; a++) nodes[o + a] = nodes[l + a] + nodes[r2 + a];
    }
    for (let i = 0; i < weight.length; i++) {
      const o = 7 * i;
      let reach2 = 0;
      for (let a = 0; a < 3; a++) {
        nodes[o + a] /= weight[i] || 1;
        const d = Math.max(boxes[6 * i + 3 + a] - nodes[o + a], nodes[o + a] - boxes[6 * i + a]);
        if (d > 0) reach2 += d * d;
      }
      nodes[o + 6] = reach2;
    }
  }
  mesh;
  tree;
  /** For each node: middle x y z, area normal x y z, squared reach. */
  nodes;
  stack = new Int32Array(128);
  /** The winding number at a point. @param skip triangles that do not count: those the point lies on */
  at(x, y, z, skip) {
    const {
      tree: { order, leaves },
      nodes,
      stack,
      mesh: { positions: p, triangles: k }
    } = this;
    const first = leaves - 1;
    if (!order.length) return 0;
    let sum = 0;
    let top = 0;
    stack[top++] = 0;
    while (top) {
      const node = stack[--top];
      const o = 7 * node;
      const dx = nodes[o] - x, dy = nodes[o + 1] - y, dz = nodes[o + 2] - z;
      const d2 = dx * dx + dy * dy + dz * dz;
      if (d2 > far * far * nodes[o + 6]) {
        if (d2 > 0) sum += (nodes[o + 3] * dx + nodes[o + 4] * dy + nodes[o + 5] * dz) / (d2 * Math.sqrt(d2));
        continue;
      }
      if (node < first) {
        stack[top++] = 2 * node + 1;
        stack[top++] = 2 * node + 2;
        continue;
      }
      for (let i = (node - first) * leafSize3; i < Math.min(order.length, (node - first + 1) * leafSize3); i++) {
        if (skip?.(order[i])) continue;
        const a = 3 * k[3 * order[i]], b = 3 * k[3 * order[i] + 1], c = 3 * k[3 * order[i] + 2];
        const ax = p[a] - x, ay = p[a + 1] - y, az = p[a + 2] - z, bx = p[b] - x, by = p[b + 1] - y, bz = p[b + 2] - z, cx = p[c] - x, cy = p[c + 1] - y, cz = p[c + 2] - z;
        const la = Math.sqrt(ax * ax + ay * ay + az * az), lb = Math.sqrt(bx * bx + by * by + bz * bz), lc = Math.sqrt(cx * cx + cy * cy + cz * cz);
        const det = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
        const div = la * lb * lc + (ax * bx + ay * by + az * bz) * lc + (bx * cx + by * cy + bz * cz) * la + (cx * ax + cy * ay + cz * az) * lb;
        sum += 2 * Math.atan2(det, div);
      }
    }
    return sum / (4 * Math.PI);
  }
};

// src/core/gauge/loyalty.ts
var fates = { kept: 0, moved: 1, lost: 2, fresh: 2, unsound: 3, inside: 4 };
var nearShare = 1 / 2e3;
var farShare = 1 / 500;
var cellShare = 1 / 250;
var mostSamples = 4e4;
var mostAcross = 8;
var bitsOf = (p) => {
  const bits = new Int32Array(p.length);
  new Float32Array(bits.buffer).set(p);
  for (let i = 0; i < bits.length; i++) if (bits[i] === -2147483648) bits[i] = 0;
  return bits;
};
var TriangleTable = class {
  constructor(mesh2) {
    this.mesh = mesh2;
    const n = triangleCount(mesh2);
    this.slots = new Int32Array(1 << Math.ceil(Math.log2(2 * n + 2))).fill(-1);
    this.bits = bitsOf(mesh2.positions);
    for (let t = 0; t < n; t++) {
      let at = this.start(this.bits, mesh2.triangles, t);
      while (this.slots[at] >= 0) at = at + 1 & this.slots.length - 1;
      this.slots[at] = t;
    }
  }
  mesh;
  slots;
  bits;
  /** The sum of its corners' hashes does not ask for their order (finaliser of MurmurHash3, Appleby 2011, public domain). */
  start(bits, k, t) {
    let sum = 0;
    for (let c = 0; c < 3; c++) {
      const o = 3 * k[3 * t + c];
      let h = Math.imul(bits[o], 2654435761) ^ Math.imul(bits[o + 1], 2246822507) ^ Math.imul(bits[o + 2], 3266489909) | 0;
      h = Math.imul(h ^ h >>> 16, 2246822507);
      h = Math.imul(h ^ h >>> 13, 3266489909);
      sum = sum + (h ^ h >>> 16) | 0;
    }
    return (sum ^ sum >>> 15) & this.slots.length - 1;
  }
  /** The number of a triangle with the same corners as triangle `t` of another mesh (its coordinates as `bitsOf` gives them), or -1. */
  find(bits, k, t) {
    const mine = this.mesh.triangles;
    for (let at = this.start(bits, k, t); this.slots[at] >= 0; at = at + 1 & this.slots.length - 1) {
      const u = this.slots[at];
      let used = 0;
      for (let c = 0; c < 3; c++) {
        const o = 3 * k[3 * t + c];
        for (let d = 0; d < 3; d++) {
          const q = 3 * mine[3 * u + d];
          if (used & 1 << d) continue;
          if (bits[o] !== this.bits[q] || bits[o + 1] !== this.bits[q + 1] || bits[o + 2] !== this.bits[q + 2]) continue;
          used |= 1 << d;
          break;
        }
      }
      if (used === 7) return u;
    }
    return -1;
  }
};
function sameNumbers(a, b) {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
var roomShare = 0.02;
var NearSearch = class {
  constructor(mesh2, box2, size2) {
    this.mesh = mesh2;
    this.box = box2;
    this.room = roomShare * size2;
  }
  mesh;
  box;
  near = null;
  whole = null;
  room;
  part() {
    const keep = flagInBox(this.mesh, this.box, this.room);
    const kept = keep.reduce((n, f) => n + f, 0);
    return kept > 0.7 * keep.length ? this.mesh : keepTriangles(this.mesh, keep).mesh;
  }
  /** Squared distance, mm²; Infinity when nothing lies within `within`. */
  square(x, y, z, within) {
    if (!this.near) {
      const part = this.part();
      this.near = new NearestInGrid(part);
      if (part === this.mesh) this.whole = this.near;
    }
    const d = this.near.square(x, y, z, within);
    if (d <= this.room * this.room || this.whole === this.near) return d;
    if (within <= this.room) return d;
    this.whole ??= new NearestInGrid(this.mesh);
    return Math.min(d, this.whole.square(x, y, z, within));
  }
};
function eachSample(mesh2, t, cell, area, visit) {
  const { positions: p, triangles: k } = mesh2;
  const n = Math.min(mostAcross, Math.max(1, Math.ceil(Math.sqrt(2 * area / (cell * cell)))));
  const a = 3 * k[3 * t], b = 3 * k[3 * t + 1], c = 3 * k[3 * t + 2];
  for (let i = 0; i < n; i++)
    for (let j = 0; i + j < n; j++)
      for (let up = 1; up <= (i + j < n - 1 ? 2 : 1); up++) {
        const v = (i + up / 3) / n, w = (j + up / 3) / n, u = 1 - v - w;
        visit(
          u * p[a] + v * p[b] + w * p[c],
          u * p[a + 1] + v * p[b + 1] + w * p[c + 1],
          u * p[a + 2] + v * p[b + 2] + w * p[c + 2]
        );
      }
}
function deepInside(mesh2, t, skin, solid, near) {
  const { positions: p, triangles: k } = mesh2;
  const at = [0, 0, 0];
  let reach2 = near;
  for (let c = 0; c < 3; c++) for (let a = 0; a < 3; a++) at[a] += p[3 * k[3 * t + c] + a] / 3;
  for (let c = 0; c < 3; c++) {
    const o = 3 * k[3 * t + c];
    reach2 = Math.max(reach2, Math.hypot(p[o] - at[0], p[o + 1] - at[1], p[o + 2] - at[2]));
  }
  return skin.square(at[0], at[1], at[2], reach2) === Infinity && solid.at(at[0], at[1], at[2]) > 0.5;
}
function worst(mesh2, t, to, cell, area) {
  let most = 0;
  eachSample(mesh2, t, cell, area, (x, y, z) => {
    most = Math.max(most, to.square(x, y, z, Infinity));
  });
  return Math.sqrt(most);
}
var volumeOf = (mesh2) => triangleCount(mesh2) && buildTopology(mesh2).openEdges === 0 ? meshVolume(mesh2) : null;
function pairOf(input, result) {
  const size2 = diagonal(meshBounds(input)) || 1;
  const corresponds = input.positions.length === result.positions.length && (input.triangles === result.triangles || sameNumbers(input.triangles, result.triangles));
  const movedBy = (t) => {
    let most = 0;
    for (let c = 0; c < 3; c++) {
      const o = 3 * input.triangles[3 * t + c];
      const p = input.positions, q = result.positions;
      most = Math.max(most, (p[o] - q[o]) ** 2 + (p[o + 1] - q[o + 1]) ** 2 + (p[o + 2] - q[o + 2]) ** 2);
    }
    return Math.sqrt(most);
  };
  return { input, result, size: size2, near: nearShare * size2, far: farShare * size2, movedBy: corresponds ? movedBy : null };
}
var cellOf = ({ size: size2 }, area) => Math.max(cellShare * size2, Math.sqrt(2 * area / mostSamples));
function match({ input, result, movedBy }, unsound) {
  const there = movedBy ? null : new TriangleTable(result);
  const bits = there && bitsOf(input.positions);
  const twinOf = (t) => there ? there.find(bits, input.triangles, t) : movedBy(t) === 0 ? t : -1;
  const inputFates = new Uint8Array(triangleCount(input)), resultFates = new Uint8Array(triangleCount(result)).fill(255);
  let total = 0, equal = 0, openArea = 0;
  const open2 = [];
  for (let t = 0; t < inputFates.length; t++) {
    const twin = twinOf(t);
    if (twin >= 0) resultFates[twin] = 0;
    if (unsound?.[t]) {
      inputFates[t] = fates.unsound;
      continue;
    }
    const area = triangleArea(input, t);
    total += area;
    if (twin < 0) {
      open2.push(t);
      openArea += area;
    } else equal += area;
  }
  return { inputFates, resultFates, total, equal, open: open2, openArea };
}
function judgeInput(pair, { inputFates, open: open2, openArea }, { united = false, quick = false, gone = false, work = quiet }) {
  const { input, result, size: size2, near, far: far2, movedBy } = pair;
  const changed = [0, 0, 0];
  let inside = 0, greatest = 0, looked = 0;
  const empty = !triangleCount(result);
  const solid = united && open2.length && !empty ? new WindingNumber(result) : null;
  const toResult = open2.length && !empty && !gone ? new NearSearch(result, boxOf(input, open2), size2) : null;
  const cell = cellOf(pair, openArea);
  const sampled = (t, area) => {
    let most = 0, samples = 0, within = 0;
    const by = movedBy ? movedBy(t) : Infinity;
    if (by <= near) most = by * by;
    else if (solid && toResult && deepInside(input, t, toResult, solid, near)) samples = within = 1;
    else if (toResult)
      eachSample(input, t, cell, area, (x, y, z) => {
        samples++;
        if (solid && toResult.square(x, y, z, near) === Infinity && solid.at(x, y, z) > 0.5) within++;
        else most = Math.max(most, toResult.square(x, y, z, Infinity));
      });
    return { most, samples, within };
  };
  const step = quick ? Math.max(1, Math.floor(open2.length / mostSamples)) : 1;
  for (let i = 0; i < open2.length; i += step) {
    const t = open2[i];
    if (i % 1024 < step) {
      checkStop(work);
      work.progress(0.5 * i / open2.length, "measuring what was kept");
    }
    const area = triangleArea(input, t);
    looked += area;
    const { most, samples, within } = sampled(t, area);
    if (samples && within === samples) {
      inputFates[t] = fates.inside;
      inside += area;
      continue;
    }
    const part = samples ? within / samples : 0;
    inside += part * area;
    const d = toResult ? Math.sqrt(most) : size2;
    if (d > greatest && !gone) greatest = d;
    const fate = d <= near ? fates.kept : d <= far2 ? fates.moved : fates.lost;
    inputFates[t] = fate;
    changed[fate] += (1 - part) * area;
  }
  const weight = looked > 0 ? openArea / looked : 1;
  return { changed: changed.map((area) => weight * area), inside: weight * inside, greatest };
}
function judgeResult(pair, { inputFates, resultFates }, { quick = false, work = quiet }) {
  const { input, result, size: size2, near, far: far2, movedBy } = pair;
  const made = [];
  let madeArea = 0;
  for (let t = 0; t < resultFates.length; t++)
    if (resultFates[t] === 255) {
      made.push(t);
      madeArea += triangleArea(result, t);
    }
  const cell = cellOf(pair, madeArea);
  const toInput = made.length && inputFates.length ? new NearSearch(input, boxOf(result, made), size2) : null;
  const step = quick ? Math.max(1, Math.floor(made.length / mostSamples)) : 1;
  let fresh = 0, seen = 0;
  for (let i = 0; i < made.length; i += step) {
    const t = made[i];
    if (i % 1024 < step) {
      checkStop(work);
      work.progress(0.5 + 0.5 * i / made.length, "measuring what is new");
    }
    const area = triangleArea(result, t);
    seen += area;
    const by = movedBy ? movedBy(t) : Infinity;
    const d = by <= near ? by : toInput ? worst(result, t, toInput, cell, area) : size2;
    resultFates[t] = d <= near ? 0 : d <= far2 ? 1 : 2;
    if (d > near) fresh += area;
  }
  return seen > 0 ? fresh * (madeArea / seen) : fresh;
}
function loyaltyOf(input, result, choice = {}) {
  const pair = pairOf(input, result);
  const matched = match(pair, choice.unsound);
  const { inputFates, resultFates, total, equal } = matched;
  const { changed, inside, greatest } = judgeInput(pair, matched, choice);
  const fresh = judgeResult(pair, matched, choice);
  let whole = 0;
  if (fresh > 0) for (let t = 0; t < resultFates.length; t++) whole += triangleArea(result, t);
  const share = (part, of, none) => of > 0 ? part / of : none;
  const { closed } = choice;
  const volume = (mesh2, known) => known === void 0 ? volumeOf(mesh2) : known ? meshVolume(mesh2) : null;
  return {
    kept: share(equal + changed[0], total - inside, 1),
    moved: share(changed[1], total - inside, 0),
    lost: share(changed[2], total - inside, 0),
    inside: share(inside, total, 0),
    equal: share(equal, total - inside, 1),
    greatest,
    fresh: share(fresh, whole, 0),
    volumeBefore: volume(input, closed?.[0]),
    volumeAfter: volume(result, closed?.[1]),
    near: pair.near,
    far: pair.far,
    inputFates,
    resultFates
  };
}
var mostLost = 5e-3;

// src/core/mend/plinth.ts
var belowShare = 0.05;
function plinth(mesh2, rim, of) {
  let up = [0, 0, 0];
  for (let t = 0; t < triangleCount(mesh2); t++) if (of(t)) up = addScaled(up, crossOf(mesh2, t), 1);
  if (!(length(up) > 0)) return null;
  up = scale(up, 1 / length(up));
  const axis = [0, 1, 2].find((k) => Math.abs(up[k]) > 0.98);
  if (axis !== void 0) up = [0, 1, 2].map((k) => k === axis ? Math.sign(up[k]) : 0);
  let low = Infinity;
  for (let t = 0; t < triangleCount(mesh2); t++)
    if (of(t))
      for (let c = 0; c < 3; c++) {
        const v = 3 * mesh2.triangles[3 * t + c];
        low = Math.min(low, dot(up, [mesh2.positions[v], mesh2.positions[v + 1], mesh2.positions[v + 2]]));
      }
  const floor = low - belowShare * Math.max(...boundsSize(meshBounds(mesh2)));
  const loop = loopOfRim(mesh2, rim);
  const n = loop.points.length;
  const base = loop.points.map((p) => sub(p, scale(up, dot(up, p) - floor)));
  const cap = flatTriangulation(base);
  if (!cap) return null;
  const triangles = [];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    triangles.push(i, j, n + j, i, n + j, n + i);
  }
  for (const v of cap) triangles.push(n + v);
  const patch = new Patch([...loop.points.flat(), ...base.flat()], n, triangles, () => false);
  return joinPatches(mesh2, [{ loop, patch }]);
}

// src/core/base/say.ts
var many = (n) => Math.round(n).toString().replace(/\B(?=(\d{3})+$)/g, "\u202F");

// src/core/mend/survey.ts
var borderShare = 0.2;
var innerShare = 0.25;
var reliefShare = 0.97;
function spannedBy(mesh2, rim) {
  const o = vertex(mesh2, rim.vertices[0]);
  const sum = [0, 0, 0];
  rim.vertices.forEach((v, i) => {
    const c = cross(sub(vertex(mesh2, v), o), sub(vertex(mesh2, rim.vertices[(i + 1) % rim.vertices.length]), o));
    for (let k = 0; k < 3; k++) sum[k] += c[k];
  });
  return length(sum) / 2;
}
function facing(mesh2, piece, count) {
  const n = mesh2.triangles.length / 3;
  const sum = new Float64Array(3 * count), area = new Float64Array(count), same = new Float64Array(count);
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh2, t);
    for (let k = 0; k < 3; k++) sum[3 * piece[t] + k] += c[k];
    area[piece[t]] += length(c);
  }
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh2, t), i = piece[t];
    if (c[0] * sum[3 * i] + c[1] * sum[3 * i + 1] + c[2] * sum[3 * i + 2] > 0) same[i] += length(c);
  }
  return same.map((s, i) => area[i] > 0 ? s / area[i] : 0);
}
function survey(mesh2) {
  const topology = buildTopology(mesh2);
  const rims = findRims(mesh2, topology);
  const { piece, count } = findPieces(mesh2, topology);
  const area = new Float64Array(count);
  for (let t = 0; t < piece.length; t++) area[piece[t]] += triangleArea(mesh2, t);
  const scraps = findScraps(mesh2, topology, rims);
  const kinds = new Array(count).fill("closed");
  const border = new Uint8Array(rims.length);
  const own2 = Array.from({ length: count }, () => []);
  rims.forEach((rim, r2) => own2[piece[triangleOf(rim.halfEdges[0])]].push(r2));
  const oneSided = rims.length ? facing(mesh2, piece, count) : null;
  const judge = (list, i) => {
    const spans = list.map((r2) => spannedBy(mesh2, rims[r2]) / (area[i] || 1));
    const widest = spans.indexOf(Math.max(...spans));
    if (spans[widest] < borderShare && oneSided[i] < reliefShare) {
      kinds[i] = "holed";
      return;
    }
    kinds[i] = "sheet";
    const filled = new Set(scraps ? list.filter((r2) => scraps.holeOf.includes(r2)) : []);
    list.forEach((r2, k) => {
      if (k === widest || spans[k] >= innerShare && !filled.has(r2)) border[r2] = 1;
    });
  };
  const floats = (i) => scraps !== null && scraps.holeOf[i] >= 0;
  own2.forEach((list, i) => {
    if (list.length && !floats(i)) judge(list, i);
  });
  own2.forEach((list, i) => {
    if (!list.length || !floats(i)) return;
    if (border[scraps.holeOf[i]]) judge(list, i);
    else kinds[i] = "scrap";
  });
  return { mesh: mesh2, topology, rims, border, piece, kinds, area };
}
function surveyWords(s) {
  const count = (kind) => s.kinds.filter((k) => k === kind).length;
  const closed = count("closed"), holed = count("holed"), sheets = count("sheet");
  const words = [
    ...closed ? [closed === 1 ? "a closed piece" : `${many(closed)} closed pieces`] : [],
    ...holed ? [holed === 1 ? "a piece with holes" : `${many(holed)} pieces with holes`] : [],
    ...sheets ? [sheets === 1 ? "an open sheet" : `${many(sheets)} open sheets`] : []
  ];
  return words.length > 1 ? `${words.slice(0, -1).join(", ")} and ${words[words.length - 1]}` : words[0] ?? "nothing";
}

// src/core/mend/close-borders.ts
function closeBorders(input, fill, work) {
  let mesh2 = input;
  for (let guard = 0; guard < 200; guard++) {
    checkStop(work);
    const s = survey(mesh2);
    const r2 = s.border.indexOf(1);
    if (r2 < 0) break;
    const rim = s.rims[r2], piece = s.piece[triangleOf(rim.halfEdges[0])];
    const across = closeHoles(mesh2, { how: fill, accept: (other) => other.halfEdges[0] === rim.halfEdges[0] }, work);
    const next = across.closed && !across.crossing ? across.mesh : plinth(mesh2, rim, (t) => s.piece[t] === piece);
    if (!next) break;
    mesh2 = next;
  }
  return mesh2;
}

// src/core/mend/doubled-skin.ts
var togetherShare = 1 / 1e3;
var mayStand = 2e-3;
var sameFacing = 0.5;
function dropDoubled(s) {
  const { mesh: mesh2, piece, kinds, area } = s;
  const open2 = kinds.flatMap((k, i) => k === "sheet" || k === "holed" ? [i] : []).sort((a, b) => area[a] - area[b]);
  if (kinds.length < 2 || !open2.length || open2.length > 60) return { mesh: mesh2, dropped: 0 };
  const within = togetherShare * diagonal(meshBounds(mesh2));
  const gone = new Uint8Array(kinds.length);
  const own2 = kinds.map(() => []);
  for (let t = 0; t < piece.length; t++) own2[piece[t]].push(t);
  for (const i of open2) {
    const rest = keepTriangles(
      mesh2,
      flagInBox(mesh2, boxOf(mesh2, own2[i]), within).map((f, t) => f && piece[t] !== i && !gone[piece[t]] ? 1 : 0)
    );
    if (!triangleCount(rest.mesh)) continue;
    const near = new NearestInGrid(rest.mesh, within);
    let stands = 0;
    for (const t of own2[i]) {
      const n = crossOf(mesh2, t);
      const m = [0, 1, 2].map(
        (k) => (mesh2.positions[3 * mesh2.triangles[3 * t] + k] + mesh2.positions[3 * mesh2.triangles[3 * t + 1] + k] + mesh2.positions[3 * mesh2.triangles[3 * t + 2] + k]) / 3
      );
      let on = false;
      if (near.distance([m[0], m[1], m[2]], within) < within) {
        const o = crossOf(rest.mesh, near.triangle);
        on = n[0] * o[0] + n[1] * o[1] + n[2] * o[2] >= sameFacing * length(n) * length(o);
      }
      if (!on) stands += length(n) / 2;
      if (stands > mayStand * area[i]) break;
    }
    if (stands <= mayStand * area[i]) gone[i] = 1;
  }
  const dropped = gone.reduce((n, g) => n + g, 0);
  return dropped ? {
    mesh: keepTriangles(
      mesh2,
      Uint8Array.from(piece, (p) => 1 - gone[p])
    ).mesh,
    dropped
  } : { mesh: mesh2, dropped: 0 };
}

// src/core/mend/folds.ts
function ringsAround(mesh2, around, some, rings) {
  let zone = /* @__PURE__ */ new Set();
  for (const t of some) for (let c = 0; c < 3; c++) zone.add(mesh2.triangles[3 * t + c]);
  for (let r2 = 0; r2 < rings; r2++) {
    const wider = new Set(zone);
    for (const v of zone)
      for (let i = around.start[v]; i < around.start[v + 1]; i++)
        for (let c = 0; c < 3; c++) wider.add(mesh2.triangles[3 * around.list[i] + c]);
    zone = wider;
  }
  return zone;
}
function relaxOnce({ positions, triangles }, around, zone, pinned, strength) {
  const next = [];
  for (const v of zone) {
    if (pinned[v]) continue;
    let x = 0, y = 0, z = 0, n = 0;
    for (let i = around.start[v]; i < around.start[v + 1]; i++)
      for (let c = 0; c < 3; c++) {
        const u = triangles[3 * around.list[i] + c];
        if (u === v) continue;
        x += positions[3 * u];
        y += positions[3 * u + 1];
        z += positions[3 * u + 2];
        n++;
      }
    if (n) next.push([v, x / n, y / n, z / n]);
  }
  for (const [v, x, y, z] of next) {
    positions[3 * v] += strength * (x - positions[3 * v]);
    positions[3 * v + 1] += strength * (y - positions[3 * v + 1]);
    positions[3 * v + 2] += strength * (z - positions[3 * v + 2]);
  }
  return next.map(([v]) => v);
}
function smoothFolds(mesh2, { strength = 0.6, passes = 12, rings = 1 } = {}, work = quiet) {
  const topology = buildTopology(mesh2);
  let folded = findFolded(mesh2, topology);
  const before = folded.length;
  if (!before) return { mesh: mesh2, before, after: 0, moved: 0 };
  const around = vertexTriangles(mesh2);
  const pinned = new Uint8Array(mesh2.positions.length / 3);
  for (let h = 0; h < topology.twin.length; h++) {
    if (topology.twin[h] >= 0) continue;
    pinned[mesh2.triangles[h]] = 1;
    pinned[mesh2.triangles[h % 3 === 2 ? h - 2 : h + 1]] = 1;
  }
  const positions = mesh2.positions.slice();
  const current = { positions, triangles: mesh2.triangles };
  const moved = /* @__PURE__ */ new Set();
  let best = before, bestPositions = mesh2.positions;
  for (let pass = 0; pass < passes && folded.length; pass++) {
    checkStop(work);
    work.progress(pass / passes, "smoothing folds");
    const zone = ringsAround(mesh2, around, folded, rings + Math.floor(pass / 4));
    for (let inner = 0; inner < 3; inner++)
      for (const v of relaxOnce(current, around, zone, pinned, strength)) moved.add(v);
    const touched = new Set(folded);
    for (const v of zone) for (let i = around.start[v]; i < around.start[v + 1]; i++) touched.add(around.list[i]);
    folded = findFolded(current, topology, Array.from(touched));
    if (folded.length < best) {
      best = folded.length;
      bestPositions = positions.slice();
    }
  }
  return {
    mesh: { positions: bestPositions, triangles: mesh2.triangles },
    before,
    after: best,
    moved: best < before ? moved.size : 0
  };
}

// src/core/mend/bridge-gap.ts
function stitchRows(a, b) {
  const n = a.length, m = b.length;
  const cost = new Float64Array(n * m).fill(Infinity), from = new Uint8Array(n * m);
  const area = (p, q, r2) => {
    const c = cross(sub(q, p), sub(r2, p));
    return Math.sqrt(dot(c, c)) + 1e-3 * distance(q, r2);
  };
  cost[0] = 0;
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      if (!i && !j) continue;
      const onA = i ? cost[(i - 1) * m + j] + area(a[i - 1], a[i], b[j]) : Infinity;
      const onB = j ? cost[i * m + j - 1] + area(b[j - 1], b[j], a[i]) : Infinity;
      cost[i * m + j] = Math.min(onA, onB);
      from[i * m + j] = onA <= onB ? 1 : 2;
    }
  const out = [];
  for (let i = n - 1, j = m - 1; i || j; ) {
    if (from[i * m + j] === 1) {
      out.push(i - 1, i, n + j);
      i--;
    } else {
      out.push(n + j, n + j - 1, i);
      j--;
    }
  }
  return out;
}
function stretch(loop, corner, width) {
  const n = loop.points.length;
  const walk = (step) => {
    const out = [];
    let run = 0;
    for (let k = corner, i = 0; i < Math.floor((n - 1) / 2); i++) {
      const next = (k + step + n) % n;
      run += distance(loop.points[k], loop.points[next]);
      if (run > width / 2 && out.length) break;
      out.push(next);
      k = next;
      if (run > width / 2) break;
    }
    return out;
  };
  return [...walk(-1).reverse(), corner, ...walk(1)];
}
function bridgeGap(mesh2, from, to, { width, flat = false } = {}) {
  const rims = findRims(mesh2, buildTopology(mesh2));
  const a = rimNearest(mesh2, rims, from);
  if (!a)
    throw new StepError("no-hole", "There is no open rim on this body.", { tryThis: "Bridge gap joins two open rims." });
  const b = rimNearest(mesh2, rims, to);
  const ground = patchGround(mesh2);
  const firstNew = mesh2.triangles.length / 3;
  const same = a.rim === b.rim;
  if (same && width === void 0)
    throw new StepError("same-rim", "Both points lie on the same rim.", {
      tryThis: "Give a width for a strip across this hole, or pick points on two rims."
    });
  const one = loopOfRim(mesh2, a.rim), two = same ? one : loopOfRim(mesh2, b.rim);
  const cornerOf = (loop2, rim, p) => loop2.vertices.indexOf(rim.vertices[nearestOnRim(mesh2, rim, p).corner]);
  const i = cornerOf(one, a.rim, from), j = cornerOf(two, b.rim, to);
  const gap = distance(one.points[i], two.points[j]);
  if (width !== void 0) {
    const rowA = stretch(one, i, width), rowB = stretch(two, j, width);
    if (same && rowA.some((k) => rowB.includes(k)))
      throw new StepError("overlap", "The strip would meet itself on this rim.", {
        tryThis: "Choose a smaller width or points further apart."
      });
    const back = [...rowB];
    const cornersA = rowA.map((k) => one.points[k]), cornersB = back.map((k) => two.points[k]);
    const loop2 = {
      points: [...cornersA, ...cornersB],
      vertices: [...rowA.map((k) => one.vertices[k]), ...back.map((k) => two.vertices[k])],
      against: [
        ...rowA.slice(0, -1).map((k) => one.against[k]),
        -1,
        ...back.slice(0, -1).map((k) => two.against[k]),
        -1
      ]
    };
    const n2 = rowA.length, m2 = back.length;
    const stitched2 = stitchRows(cornersA, [...cornersB].reverse()).map((v) => v < n2 ? v : n2 + (m2 - 1 - (v - n2)));
    const patch2 = patchLoop(ground, loop2, flat ? "flat" : "smooth", wound(stitched2, n2 + m2));
    return { mesh: joinPatches(mesh2, [{ loop: loop2, patch: patch2 }]), gap, edges: n2 + m2 - 2, firstNew, whole: false };
  }
  const n = one.points.length, m = two.points.length;
  if (n * m > 4e6)
    throw new StepError("too-large", `These rims have ${n} and ${m} edges: too many to join all round.`, {
      tryThis: "Simplify or even out the rims first, or bridge by strips."
    });
  const ring1 = Array.from({ length: n + 1 }, (_, k) => (i + k) % n), ring2 = Array.from({ length: m + 1 }, (_, k) => (j - k + m) % m);
  const stitched = stitchRows(
    ring1.map((k) => one.points[k]),
    ring2.map((k) => two.points[k])
  );
  const id = stitched.map((v) => v <= n ? ring1[v] : n + ring2[v - n - 1]);
  const loop = {
    points: [...one.points, ...two.points],
    vertices: [...one.vertices, ...two.vertices],
    against: [...one.against, ...two.against]
  };
  const patch = patchLoop(
    ground,
    loop,
    flat ? "flat" : "smooth",
    woundBy(id, (p, q) => p < n && q < n && q === (p + 1) % n || p >= n && q >= n && q - n === (p - n + 1) % m)
  );
  return { mesh: joinPatches(mesh2, [{ loop, patch }]), gap, edges: n + m, firstNew, whole: true };
}
var wound = (triangles, n) => woundBy(triangles, (p, q) => q === (p + 1) % n);
function woundBy(triangles, forward) {
  let ahead = 0, against = 0;
  for (let i = 0; i < triangles.length; i += 3)
    for (let c = 0; c < 3; c++) {
      const p = triangles[i + c], q = triangles[i + (c + 1) % 3];
      if (forward(p, q)) ahead++;
      if (forward(q, p)) against++;
    }
  if (ahead >= against) return triangles;
  const out = [...triangles];
  for (let i = 0; i < out.length; i += 3) [out[i], out[i + 1]] = [out[i + 1], out[i]];
  return out;
}

// src/core/mend/plate-sides.ts
var apartShare = 0.15;
var backToBack = -0.8;
var lengthFactor = 1.3;
var mostPairs = 4e6;
function sidesOf(s) {
  const borders = /* @__PURE__ */ new Map();
  s.rims.forEach((rim, r2) => {
    if (!s.border[r2] || !rim.closed) return;
    const i = s.piece[triangleOf(rim.halfEdges[0])];
    borders.set(i, [...borders.get(i) ?? [], rim]);
  });
  const normal = new Float64Array(3 * s.kinds.length);
  for (let t = 0; t < s.piece.length; t++) {
    const c = crossOf(s.mesh, t);
    for (let k = 0; k < 3; k++) normal[3 * s.piece[t] + k] += c[k];
  }
  return [...borders].flatMap(([i, rims]) => {
    const n = [normal[3 * i], normal[3 * i + 1], normal[3 * i + 2]];
    const l = length(n);
    return rims.length === 1 && l > 0 ? [{ rim: rims[0], normal: scale(n, 1 / l), area: s.area[i], length: rimLength(s.mesh, rims[0]) }] : [];
  });
}
function meanApart(mesh2, a, b) {
  const to = b.vertices.map((v) => vertex(mesh2, v));
  const step = Math.max(1, Math.floor(a.vertices.length / 64));
  let sum = 0, n = 0;
  for (let i = 0; i < a.vertices.length; i += step) {
    const p = vertex(mesh2, a.vertices[i]);
    sum += Math.min(...to.map((q) => distance(p, q)));
    n++;
  }
  return sum / n;
}
function joinPlateSides(start) {
  let s = start, joined2 = 0;
  for (let guard = 0; guard < 20; guard++) {
    const sides = sidesOf(s);
    if (sides.length < 2 || sides.length > 60) break;
    let best = null, least = Infinity;
    for (let i = 0; i < sides.length; i++)
      for (let j = i + 1; j < sides.length; j++) {
        const a = sides[i], b = sides[j];
        if (dot(a.normal, b.normal) > backToBack) continue;
        if (Math.max(a.length, b.length) > lengthFactor * Math.min(a.length, b.length)) continue;
        if (a.rim.vertices.length * b.rim.vertices.length > mostPairs) continue;
        const apart = Math.max(meanApart(s.mesh, a.rim, b.rim), meanApart(s.mesh, b.rim, a.rim));
        if (apart < apartShare * Math.sqrt(Math.min(a.area, b.area)) && apart < least) {
          least = apart;
          best = [a, b];
        }
      }
    if (!best) break;
    const from = vertex(s.mesh, best[0].rim.vertices[0]);
    const to = best[1].rim.vertices.map((v) => vertex(s.mesh, v)).reduce((p, q) => distance(from, q) < distance(from, p) ? q : p);
    s = survey(bridgeGap(s.mesh, from, to, { flat: true }).mesh);
    joined2++;
  }
  return { mesh: s.mesh, joined: joined2 };
}

// src/core/mesh/bad-coordinates.ts
function dropBadCoordinates(mesh2) {
  const { positions: p, triangles: k } = mesh2;
  const bad = new Uint8Array(p.length / 3);
  let any = false;
  for (let v = 0; v < bad.length; v++)
    if (!(Number.isFinite(p[3 * v]) && Number.isFinite(p[3 * v + 1]) && Number.isFinite(p[3 * v + 2]))) {
      bad[v] = 1;
      any = true;
    }
  if (!any) return { mesh: mesh2, dropped: 0 };
  const kept = [];
  for (let t = 0; t < k.length; t += 3)
    if (!bad[k[t]] && !bad[k[t + 1]] && !bad[k[t + 2]]) kept.push(k[t], k[t + 1], k[t + 2]);
  const positions = p.slice();
  for (let v = 0; v < bad.length; v++) if (bad[v]) positions.fill(0, 3 * v, 3 * v + 3);
  return { mesh: { positions, triangles: Uint32Array.from(kept) }, dropped: (k.length - kept.length) / 3 };
}

// src/core/mend/tangles.ts
function crossingClusters(mesh2, pairs) {
  if (!pairs.length) return [];
  const up = /* @__PURE__ */ new Map();
  const find = (t) => {
    let r2 = t;
    for (let n = up.get(r2); n !== r2; n = up.get(r2)) r2 = n;
    up.set(t, r2);
    return r2;
  };
  for (const t of pairs) up.set(t, t);
  const join = (s, t) => up.set(find(s), find(t));
  for (let i = 0; i < pairs.length; i += 2) join(pairs[i], pairs[i + 1]);
  const atVertex = /* @__PURE__ */ new Map();
  for (const t of up.keys())
    for (let c = 0; c < 3; c++) {
      const v = mesh2.triangles[3 * t + c];
      const other = atVertex.get(v);
      if (other === void 0) atVertex.set(v, t);
      else join(t, other);
    }
  const groups = /* @__PURE__ */ new Map();
  for (const t of up.keys()) {
    const r2 = find(t);
    const list = groups.get(r2);
    if (list) list.push(t);
    else groups.set(r2, [t]);
  }
  const { piece } = findPieces(mesh2, buildTopology(mesh2));
  const p = mesh2.positions;
  return [...groups.values()].map((triangles) => {
    const lo = [Infinity, Infinity, Infinity], hi = [-Infinity, -Infinity, -Infinity];
    for (const t of triangles)
      for (let c = 0; c < 3; c++)
        for (let a = 0; a < 3; a++) {
          const v = p[3 * mesh2.triangles[3 * t + c] + a];
          lo[a] = Math.min(lo[a], v);
          hi[a] = Math.max(hi[a], v);
        }
    return {
      triangles,
      reach: Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]),
      pieces: new Set(triangles.map((t) => piece[t])).size
    };
  });
}

// src/core/mend/take-apart.ts
function takeApart(mesh2, least) {
  const { piece, count } = findPieces(mesh2, buildTopology(mesh2));
  const area = new Float64Array(count), size2 = new Uint32Array(count);
  for (let t = 0; t < piece.length; t++) {
    area[piece[t]] += triangleArea(mesh2, t);
    size2[piece[t]]++;
  }
  const order = Array.from({ length: count }, (_, i) => i).sort((a, b) => area[b] - area[a] || a - b);
  const largest = area[order[0]] ?? 0;
  const kept = order.filter((i) => area[i] >= least * largest);
  const lists = Array.from(size2, (n) => new Uint32Array(n));
  const fill = new Uint32Array(count);
  piece.forEach((i, t) => {
    lists[i][fill[i]++] = t;
  });
  const local = new Int32Array(mesh2.positions.length / 3).fill(-1);
  const pieces = kept.map((i) => {
    const ids = [];
    const triangles = new Uint32Array(3 * lists[i].length);
    lists[i].forEach((t, q) => {
      for (let c = 0; c < 3; c++) {
        const v = mesh2.triangles[3 * t + c];
        if (local[v] < 0) local[v] = ids.push(v) - 1;
        triangles[3 * q + c] = local[v];
      }
    });
    const positions = new Float32Array(3 * ids.length);
    ids.forEach((v, q) => {
      positions.set(mesh2.positions.subarray(3 * v, 3 * v + 3), 3 * q);
      local[v] = -1;
    });
    return { positions, triangles };
  });
  return { pieces, leftOut: count - kept.length };
}

// src/core/arrange/plane-net.ts
var CutError = class extends Error {
};
var PlaneNet = class {
  constructor(table, f) {
    this.table = table;
    this.f = f;
    this.at = [...f.corners];
    f.corners.forEach((v, h) => {
      this.known.add(v);
      this.startsAt.set(v, h);
    });
  }
  table;
  f;
  /** Corners, three by three; half-edge h runs from corner h to the next. */
  at;
  /** The half-edge across, or -1 at the border. */
  twin = [-1, -1, -1];
  fixed = /* @__PURE__ */ new Set();
  known = /* @__PURE__ */ new Set();
  /** A half-edge that starts at each point. */
  startsAt = /* @__PURE__ */ new Map();
  last = 0;
  turn(a, b, c) {
    return this.table.turn(a, b, c, this.f.i, this.f.j);
  }
  /** A triangle that holds a point, and the signs of its edges. Walks towards it; looks at all where the walk goes in a circle. */
  locate(p) {
    const { at, twin } = this;
    const n = at.length / 3;
    let t = this.last;
    for (let step = 0; step < 2 * n + 8; step++) {
      let over = -1, zero = -1, outside = false;
      for (let k = 0; k < 3; k++) {
        const h = 3 * t + (k + step) % 3;
        const s = this.turn(at[h], at[nextIn(h)], p);
        if (s < 0 && twin[h] >= 0) {
          over = twin[h];
          break;
        }
        if (s < 0) outside = true;
        if (s === 0) zero = h;
      }
      if (outside) break;
      if (over < 0) return { t, zero };
      t = triangleOf(over);
    }
    for (t = 0; t < n; t++) {
      const s = [0, 1, 2].map((k) => this.turn(at[3 * t + k], at[nextIn(3 * t + k)], p));
      if (s.every((v) => v >= 0)) return { t, zero: s.indexOf(0) < 0 ? -1 : 3 * t + s.indexOf(0) };
    }
    throw new CutError("a point of a cut lies outside its triangle");
  }
  set(t, a, b, c) {
    this.at[3 * t] = a;
    this.at[3 * t + 1] = b;
    this.at[3 * t + 2] = c;
    this.startsAt.set(a, 3 * t).set(b, 3 * t + 1).set(c, 3 * t + 2);
  }
  join(g, h) {
    this.twin[g] = h;
    if (h >= 0) this.twin[h] = g;
  }
  addPoint(p) {
    if (this.known.has(p)) return;
    this.known.add(p);
    const { at, twin } = this;
    const { t, zero } = this.locate(p);
    if (zero < 0) {
      const [a, b, c] = [at[3 * t], at[3 * t + 1], at[3 * t + 2]];
      const [, tb, tc] = [twin[3 * t], twin[3 * t + 1], twin[3 * t + 2]];
      const u = at.length / 3, v = u + 1;
      this.set(t, a, b, p);
      this.set(u, b, c, p);
      this.set(v, c, a, p);
      this.join(3 * u, tb);
      this.join(3 * v, tc);
      this.join(3 * t + 1, 3 * u + 2);
      this.join(3 * u + 1, 3 * v + 2);
      this.join(3 * v + 1, 3 * t + 2);
    } else {
      const h = zero, g = twin[h];
      const a = at[h], b = at[nextIn(h)], c = at[prevIn(h)];
      const th = triangleOf(h);
      const bc = twin[nextIn(h)], ca = twin[prevIn(h)];
      const u = at.length / 3;
      this.set(th, a, p, c);
      this.set(u, p, b, c);
      this.join(3 * th + 2, ca);
      this.join(3 * u + 1, bc);
      this.join(3 * th + 1, 3 * u + 2);
      if (g < 0) {
        this.twin[3 * th] = -1;
        this.twin[3 * u] = -1;
      } else {
        const d = at[prevIn(g)];
        const tg = triangleOf(g);
        const ad = twin[nextIn(g)], db = twin[prevIn(g)];
        const v = u + 1;
        this.set(tg, b, p, d);
        this.set(v, p, a, d);
        this.join(3 * tg + 2, db);
        this.join(3 * v + 1, ad);
        this.join(3 * tg + 1, 3 * v + 2);
        this.join(3 * th, 3 * v);
        this.join(3 * u, 3 * tg);
      }
      if (this.fixed.delete(edgeKey(a, b))) this.fixed.add(edgeKey(a, p)).add(edgeKey(p, b));
    }
    this.last = t;
  }
  /** Half-edges that start at a point, all round it as far as the border. */
  *around(p) {
    const first = this.startsAt.get(p);
    let h = first;
    do {
      yield h;
      h = this.twin[prevIn(h)];
    } while (h >= 0 && h !== first);
    if (h === first) return;
    for (h = this.twin[first]; h >= 0; h = this.twin[h]) {
      h = nextIn(h);
      yield h;
    }
  }
  /** Turns the diagonal h of the two triangles beside it. */
  flip(h) {
    const { at, twin } = this;
    const g = twin[h];
    const a = at[h], b = at[nextIn(h)], c = at[prevIn(h)], d = at[prevIn(g)];
    const bc = twin[nextIn(h)], ca = twin[prevIn(h)], ad = twin[nextIn(g)], db = twin[prevIn(g)];
    const t = triangleOf(h), u = triangleOf(g);
    this.set(t, c, d, b);
    this.set(u, d, c, a);
    this.join(3 * t + 1, db);
    this.join(3 * t + 2, bc);
    this.join(3 * u + 1, ca);
    this.join(3 * u + 2, ad);
    this.join(3 * t, 3 * u);
  }
  /** Whether turning h leaves two triangles that have area: both ends see the new diagonal on their own side. */
  canFlip(h) {
    const { at, twin } = this;
    const c = at[prevIn(h)], d = at[prevIn(twin[h])];
    return this.turn(c, d, at[nextIn(h)]) > 0 && this.turn(d, c, at[h]) > 0;
  }
  edge(a, b) {
    for (const h of this.around(a)) {
      if (this.at[nextIn(h)] === b) return h;
      if (this.at[prevIn(h)] === b) return prevIn(h);
    }
    return -1;
  }
  /** Makes a to b an edge that stays. No point and no fixed edge lies between. */
  addEdge(a, b) {
    if (a === b) return;
    if (this.edge(a, b) < 0) {
      const crossed = [];
      let h = -1;
      for (const g of this.around(a)) {
        const c = this.at[nextIn(g)], d = this.at[prevIn(g)];
        if (this.turn(a, b, c) < 0 && this.turn(a, b, d) > 0 && this.turn(c, d, a) * this.turn(c, d, b) < 0) {
          h = nextIn(g);
          break;
        }
      }
      if (h < 0) throw new CutError("a cut does not begin at its point");
      for (; ; ) {
        crossed.push([this.at[h], this.at[nextIn(h)]]);
        const g = this.twin[h];
        if (g < 0) throw new CutError("a cut runs out of its triangle");
        const d = this.at[prevIn(g)];
        if (d === b) break;
        h = this.turn(a, b, d) > 0 ? nextIn(g) : prevIn(g);
      }
      for (let guard = 0, most = 40 * crossed.length * crossed.length + 100; crossed.length; guard++) {
        if (guard > most) throw new CutError("a cut could not be laid through its triangle");
        const [c, d] = crossed.shift();
        const e = this.edge(c, d);
        if (!this.canFlip(e)) {
          crossed.push([c, d]);
          continue;
        }
        const p = this.at[prevIn(e)], q = this.at[prevIn(this.twin[e])];
        this.flip(e);
        if (p !== a && p !== b && q !== a && q !== b && this.turn(a, b, p) * this.turn(a, b, q) < 0)
          crossed.push([p, q]);
      }
    }
    this.fixed.add(edgeKey(a, b));
  }
  /** Turns free edges until no corner lies within a neighbour's circle (Lawson 1977), judged by rounded coordinates. */
  evenOut() {
    const { at, twin, table } = this;
    const { i, j } = this.f;
    const stack = [];
    for (let h = 0; h < at.length; h++) if (twin[h] > h) stack.push(h);
    for (let guard = 0, most = 60 * stack.length; stack.length && guard < most; guard++) {
      const h = stack.pop();
      const g = twin[h];
      if (g < 0 || this.fixed.has(edgeKey(at[h], at[nextIn(h)]))) continue;
      const a = at[h], b = at[nextIn(h)], c = at[prevIn(h)], d = at[prevIn(g)];
      const x = (v) => table.coordinate(v, i) - table.coordinate(d, i), y = (v) => table.coordinate(v, j) - table.coordinate(d, j);
      const [ax, ay, bx, by, cx, cy] = [x(a), y(a), x(b), y(b), x(c), y(c)];
      const sa = ax * ax + ay * ay, sb = bx * bx + by * by, sc = cx * cx + cy * cy;
      const inCircle = ax * (by * sc - sb * cy) - ay * (bx * sc - sb * cx) + sa * (bx * cy - by * cx);
      const slack = 1e-12 * (Math.abs(ax) + Math.abs(ay)) * (Math.abs(bx) + Math.abs(by)) * Math.max(sa, sb, sc);
      if (inCircle <= slack || !this.canFlip(h)) continue;
      this.flip(h);
      const t = triangleOf(h), u = triangleOf(g);
      stack.push(3 * t + 1, 3 * t + 2, 3 * u + 1, 3 * u + 2);
    }
  }
  triangles() {
    return this.at;
  }
};

// src/core/arrange/exact-point.ts
import { orient2d as orient2d2 } from "robust-predicates";
var places = 24n;
var placesShare = 2 ** -24;
function wholeShift(p, used) {
  const bits = new Uint32Array(p.buffer, p.byteOffset, p.length);
  let low = 0;
  for (let i = 0; i < p.length; i++) {
    if (!used[i / 3 | 0] || p[i] === 0) continue;
    const exponent = bits[i] >>> 23 & 255;
    const mantissa = bits[i] & 8388607 | (exponent ? 8388608 : 0);
    const lowest = (exponent || 1) - 150 + (31 - Math.clz32(mantissa & -mantissa));
    if (lowest < low) low = lowest;
  }
  return -low;
}
var PointTable = class {
  /** @param used 1 for vertices that may take part; only those are held to the grid */
  constructor(positions, used) {
    this.positions = positions;
    this.scale = 2 ** wholeShift(positions, used);
    this.count = positions.length / 3;
    this.near = new Float64Array(Math.max(3072, positions.length + (positions.length >> 1)));
    for (let v = 0; v < this.count; v++) if (used[v]) this.enter(v);
  }
  positions;
  x = [];
  y = [];
  z = [];
  w = [];
  /** Rounded coordinates, in units of the whole-number grid. */
  near;
  slots = new Int32Array(1 << 14).fill(-1);
  filled = 0;
  scale;
  count;
  most = 0;
  hash = new Float64Array(3);
  hashBits = new Uint32Array(this.hash.buffer);
  enter(v) {
    const { positions: p, scale: scale2 } = this;
    this.x[v] = BigInt(p[3 * v] * scale2);
    this.y[v] = BigInt(p[3 * v + 1] * scale2);
    this.z[v] = BigInt(p[3 * v + 2] * scale2);
    this.w[v] = 1n;
    for (let a = 0; a < 3; a++) {
      this.near[3 * v + a] = p[3 * v + a] * scale2 + 0;
      this.most = Math.max(this.most, Math.abs(this.near[3 * v + a]));
    }
    this.file(v);
  }
  startOf(v) {
    this.hash.set(this.near.subarray(3 * v, 3 * v + 3));
    let h = 0;
    for (const b of this.hashBits) {
      h = Math.imul(h ^ b, 2654435761);
      h ^= h >>> 15;
    }
    return h & this.slots.length - 1;
  }
  same(a, b) {
    for (let k = 0; k < 3; k++) if (this.near[3 * a + k] !== this.near[3 * b + k]) return false;
    const u = this.w[a], v = this.w[b];
    if (u === 1n && v === 1n) return true;
    return this.x[a] * v === this.x[b] * u && this.y[a] * v === this.y[b] * u && this.z[a] * v === this.z[b] * u;
  }
  /** Files point v; gives the number of an equal one that was there, or v. */
  file(v) {
    if (2 * this.filled > this.slots.length) {
      const old = this.slots;
      this.slots = new Int32Array(2 * old.length).fill(-1);
      for (const u of old) {
        if (u < 0) continue;
        let at2 = this.startOf(u);
        while (this.slots[at2] >= 0) at2 = at2 + 1 & this.slots.length - 1;
        this.slots[at2] = u;
      }
    }
    const at = this.slotOf(v);
    if (this.slots[at] >= 0) return this.slots[at];
    this.slots[at] = v;
    this.filled++;
    return v;
  }
  /** Where the point equal to v is filed, or would be. */
  slotOf(v) {
    let at = this.startOf(v);
    while (this.slots[at] >= 0 && !this.same(this.slots[at], v)) at = at + 1 & this.slots.length - 1;
    return at;
  }
  /** The number that stands for vertex v: that of the first vertex at its place. */
  standsFor(v) {
    const at = this.slots[this.slotOf(v)];
    return at >= 0 ? at : v;
  }
  /** The point (x, y, z) / w. */
  made(x, y, z, w) {
    if (w < 0n) {
      x = -x;
      y = -y;
      z = -z;
      w = -w;
    }
    const v = this.count;
    if (3 * v + 3 > this.near.length) {
      const wider = new Float64Array(2 * this.near.length);
      wider.set(this.near);
      this.near = wider;
    }
    this.near[3 * v] = Number((x << places) / w) * placesShare;
    this.near[3 * v + 1] = Number((y << places) / w) * placesShare;
    this.near[3 * v + 2] = Number((z << places) / w) * placesShare;
    this.x[v] = x;
    this.y[v] = y;
    this.z[v] = z;
    this.w[v] = w;
    const at = this.file(v);
    if (at === v) this.count++;
    return at;
  }
  /** The plane through three vertices, facing the side from which they run counter-clockwise. */
  planeOf(a, b, c) {
    const ux = this.x[b] - this.x[a], uy = this.y[b] - this.y[a], uz = this.z[b] - this.z[a], vx = this.x[c] - this.x[a], vy = this.y[c] - this.y[a], vz = this.z[c] - this.z[a];
    const x = uy * vz - uz * vy, y = uz * vx - ux * vz, z = ux * vy - uy * vx;
    return { x, y, z, d: x * this.x[a] + y * this.y[a] + z * this.z[a] };
  }
  /** The plane through two vertices along coordinate axis `axis`. */
  planeAlong(a, b, axis) {
    const ux = this.x[b] - this.x[a], uy = this.y[b] - this.y[a], uz = this.z[b] - this.z[a];
    const x = axis === 1 ? -uz : axis === 2 ? uy : 0n, y = axis === 0 ? uz : axis === 2 ? -ux : 0n, z = axis === 0 ? -uy : axis === 1 ? ux : 0n;
    return { x, y, z, d: x * this.x[a] + y * this.y[a] + z * this.z[a] };
  }
  /** Where the line through two vertices passes through a plane it is not parallel to. */
  onLine(u, v, plane) {
    const dx = this.x[v] - this.x[u], dy = this.y[v] - this.y[u], dz = this.z[v] - this.z[u];
    const w = plane.x * dx + plane.y * dy + plane.z * dz;
    const t = plane.d - (plane.x * this.x[u] + plane.y * this.y[u] + plane.z * this.z[u]);
    return this.made(this.x[u] * w + t * dx, this.y[u] * w + t * dy, this.z[u] * w + t * dz, w);
  }
  /** Where three planes meet (Cramer's rule). */
  onPlanes(a, b, c) {
    const bcx = b.y * c.z - b.z * c.y, bcy = b.z * c.x - b.x * c.z, bcz = b.x * c.y - b.y * c.x, cax = c.y * a.z - c.z * a.y, cay = c.z * a.x - c.x * a.z, caz = c.x * a.y - c.y * a.x, abx = a.y * b.z - a.z * b.y, aby = a.z * b.x - a.x * b.z, abz = a.x * b.y - a.y * b.x;
    return this.made(
      a.d * bcx + b.d * cax + c.d * abx,
      a.d * bcy + b.d * cay + c.d * aby,
      a.d * bcz + b.d * caz + c.d * abz,
      a.x * bcx + a.y * bcy + a.z * bcz
    );
  }
  /** How many numbers there are. */
  get size() {
    return this.count;
  }
  isVertex = (v) => 3 * v < this.positions.length;
  /** Rounded coordinate in grid units: off by less than a 2^23rd of the grid and two roundings. */
  coordinate = (v, axis) => this.near[3 * v + axis];
  /** Coordinate in mm, rounded to double precision. */
  millimetres = (v, axis) => this.near[3 * v + axis] / this.scale;
  /** Sign of the turn p, q, r seen with coordinate i to the right and j up; exact. */
  turn(p, q, r2, i, j) {
    const n = this.near;
    const rx = n[3 * r2 + i], ry = n[3 * r2 + j];
    const ax = n[3 * p + i] - rx, ay = n[3 * p + j] - ry, bx = n[3 * q + i] - rx, by = n[3 * q + j] - ry;
    const det = ax * by - ay * bx;
    const e = 2 * placesShare + this.most * 45e-17;
    const bound = e * (Math.abs(ax) + Math.abs(ay) + Math.abs(bx) + Math.abs(by) + 2 * e) + 1e-15 * (Math.abs(ax * by) + Math.abs(ay * bx));
    if (det > bound) return 1;
    if (det < -bound) return -1;
    if (this.isVertex(p) && this.isVertex(q) && this.isVertex(r2)) {
      const s = this.positions;
      return -Math.sign(orient2d2(s[3 * p + i], s[3 * p + j], s[3 * q + i], s[3 * q + j], s[3 * r2 + i], s[3 * r2 + j]));
    }
    const ci = i === 0 ? this.x : i === 1 ? this.y : this.z, cj = j === 0 ? this.x : j === 1 ? this.y : this.z;
    const { w } = this;
    const exact = ci[p] * (cj[q] * w[r2] - cj[r2] * w[q]) - cj[p] * (ci[q] * w[r2] - ci[r2] * w[q]) + w[p] * (ci[q] * cj[r2] - cj[q] * ci[r2]);
    return exact > 0n ? 1 : exact < 0n ? -1 : 0;
  }
  /** Sign of a's coordinate less b's; exact. */
  compare(a, b, axis) {
    const d = this.near[3 * a + axis] - this.near[3 * b + axis];
    const e = 4 * placesShare + this.most * 9e-16;
    if (d > e) return 1;
    if (d < -e) return -1;
    const c = axis === 0 ? this.x : axis === 1 ? this.y : this.z;
    const l = c[a] * this.w[b], r2 = c[b] * this.w[a];
    return l > r2 ? 1 : l < r2 ? -1 : 0;
  }
  /** How far rounded coordinates may be off, in grid units. */
  get slack() {
    return 4 * placesShare + this.most * 9e-16;
  }
};

// src/core/arrange/meeting.ts
import { orient3d as orient3d2 } from "robust-predicates";
var size = (v) => v < 0n ? -v : v;
function facetOf(table, a, b, c) {
  if (a === b || b === c || c === a) return null;
  const plane = table.planeOf(a, b, c);
  const x = size(plane.x), y = size(plane.y), z = size(plane.z);
  const axis = x >= y && x >= z ? 0 : y >= z ? 1 : 2;
  const along = axis === 0 ? plane.x : axis === 1 ? plane.y : plane.z;
  if (along === 0n) return null;
  const i = (axis + 1) % 3, j = (axis + 2) % 3;
  return { corners: [a, b, c], plane, i: along > 0n ? i : j, j: along > 0n ? j : i };
}
var droppedAxis = (f) => 3 - f.i - f.j;
var side = (p, a, b, c, d) => Math.sign(
  orient3d2(
    p[3 * a],
    p[3 * a + 1],
    p[3 * a + 2],
    p[3 * b],
    p[3 * b + 1],
    p[3 * b + 2],
    p[3 * c],
    p[3 * c + 1],
    p[3 * c + 2],
    p[3 * d],
    p[3 * d + 1],
    p[3 * d + 2]
  )
);
function holds(table, f, v) {
  const [a, b, c] = f.corners;
  return table.turn(a, b, v, f.i, f.j) >= 0 && table.turn(b, c, v, f.i, f.j) >= 0 && table.turn(c, a, v, f.i, f.j) >= 0;
}
function edgeInPlane(table, f, u, v, out) {
  if (holds(table, f, u)) out.add(u);
  if (holds(table, f, v)) out.add(v);
  for (let k = 0; k < 3; k++) {
    const a = f.corners[k], b = f.corners[(k + 1) % 3];
    if (a === u || a === v || b === u || b === v) continue;
    const s = table.turn(u, v, a, f.i, f.j), t = table.turn(u, v, b, f.i, f.j);
    if (s * t > 0 || s === 0 && t === 0) continue;
    const m = table.turn(a, b, u, f.i, f.j), n = table.turn(a, b, v, f.i, f.j);
    if (m * n > 0 || m === 0 && n === 0) continue;
    if (s === 0) out.add(a);
    else if (t === 0) out.add(b);
    else if (m !== 0 && n !== 0) out.add(table.onLine(u, v, table.planeAlong(a, b, droppedAxis(f))));
  }
}
function edgesThrough(table, p, s, t, signs, out) {
  const [a, b, c] = t.corners;
  for (let k = 0; k < 3; k++) {
    const u = s.corners[k], v = s.corners[(k + 1) % 3];
    const su = signs[k], sv = signs[(k + 1) % 3];
    if (su === 0 && sv === 0) edgeInPlane(table, t, u, v, out);
    else if (su === 0) {
      if (holds(table, t, u)) out.add(u);
    } else if (sv !== 0 && su !== sv) {
      const s1 = side(p, u, v, a, b), s2 = side(p, u, v, b, c), s3 = side(p, u, v, c, a);
      if (s1 >= 0 && s2 >= 0 && s3 >= 0 || s1 <= 0 && s2 <= 0 && s3 <= 0) {
        out.add(table.onLine(u, v, t.plane));
      }
    }
  }
}
function meet(table, p, s, t) {
  const [a, b, c] = t.corners;
  const signs = s.corners.map((v) => v === a || v === b || v === c ? 0 : side(p, a, b, c, v));
  if (signs[0] > 0 && signs[1] > 0 && signs[2] > 0 || signs[0] < 0 && signs[1] < 0 && signs[2] < 0) return null;
  if (signs[0] === 0 && signs[1] === 0 && signs[2] === 0) return meetFlat(table, s, t);
  const [d, e, f] = s.corners;
  const other = t.corners.map((v) => v === d || v === e || v === f ? 0 : side(p, d, e, f, v));
  if (other[0] > 0 && other[1] > 0 && other[2] > 0 || other[0] < 0 && other[1] < 0 && other[2] < 0) return null;
  const points = /* @__PURE__ */ new Set();
  edgesThrough(table, p, s, t, signs, points);
  edgesThrough(table, p, t, s, other, points);
  if (!points.size) return null;
  const found = [...points];
  const corner = (v) => s.corners.includes(v) && t.corners.includes(v);
  if (found.every(corner)) return null;
  if (found.length < 2) return { points: found, first: [], second: [], flat: false };
  let from = found[0], to = found[0];
  const axis = [0, 1, 2].find((k) => found.some((v) => table.compare(v, found[0], k) !== 0)) ?? 0;
  for (const v of found) {
    if (table.compare(v, from, axis) < 0) from = v;
    if (table.compare(v, to, axis) > 0) to = v;
  }
  return {
    points: found,
    first: [{ from, to, support: t.plane }],
    second: [{ from, to, support: s.plane }],
    flat: false
  };
}
function meetFlat(table, s, t) {
  const points = /* @__PURE__ */ new Set();
  const clip = (of, within) => {
    const out = [];
    for (let k = 0; k < 3; k++) {
      const u = of.corners[k], v = of.corners[(k + 1) % 3];
      const on = /* @__PURE__ */ new Set();
      edgeInPlane(table, within, u, v, on);
      for (const c of within.corners)
        if (c !== u && c !== v && table.turn(u, v, c, of.i, of.j) === 0 && between(table, u, v, c)) on.add(c);
      for (const p of on) points.add(p);
      if (on.size < 2) continue;
      const list = [...on];
      const axis = longAxis(table, u, v);
      list.sort((a, b) => table.compare(a, b, axis));
      out.push({ from: list[0], to: list[list.length - 1], support: table.planeAlong(u, v, droppedAxis(of)) });
    }
    return out;
  };
  const first = clip(t, s), second = clip(s, t);
  const corner = (v) => s.corners.includes(v) && t.corners.includes(v);
  if ([...points].every(corner)) return null;
  return { points: [...points], first, second, flat: true };
}
function longAxis(table, u, v) {
  let axis = 0, most = -1;
  for (let k = 0; k < 3; k++) {
    const d = Math.abs(table.coordinate(u, k) - table.coordinate(v, k));
    if (d > most) {
      most = d;
      axis = k;
    }
  }
  return axis;
}
function between(table, u, v, p) {
  const axis = longAxis(table, u, v);
  return table.compare(u, p, axis) * table.compare(p, v, axis) > 0;
}

// src/core/arrange/subdivide.ts
function partSegments(table, f, segments, points) {
  const { i, j } = f;
  const slack = table.slack;
  const boxes = segments.map(({ from, to }) => {
    const a = table.coordinate(from, i), b = table.coordinate(to, i), c = table.coordinate(from, j), d = table.coordinate(to, j);
    return [Math.min(a, b) - slack, Math.max(a, b) + slack, Math.min(c, d) - slack, Math.max(c, d) + slack];
  });
  const order = segments.map((_, k) => k).sort((a, b) => boxes[a][0] - boxes[b][0]);
  for (let m = 0; m < order.length; m++)
    for (let n = m + 1; n < order.length && boxes[order[n]][0] <= boxes[order[m]][1]; n++) {
      const k = order[m], l = order[n];
      if (boxes[k][2] > boxes[l][3] || boxes[l][2] > boxes[k][3]) continue;
      const s = segments[k], t = segments[l];
      if (s.from === t.from || s.from === t.to || s.to === t.from || s.to === t.to) continue;
      if (table.turn(s.from, s.to, t.from, i, j) * table.turn(s.from, s.to, t.to, i, j) >= 0) continue;
      if (table.turn(t.from, t.to, s.from, i, j) * table.turn(t.from, t.to, s.to, i, j) >= 0) continue;
      points.add(table.onPlanes(f.plane, s.support, t.support));
    }
  const sorted = [...points].sort((a, b) => table.coordinate(a, i) - table.coordinate(b, i));
  const at = sorted.map((v) => table.coordinate(v, i));
  const parts = [];
  segments.forEach(({ from, to }, k) => {
    const on = [];
    let low = 0, high = at.length;
    while (low < high) {
      const mid = low + high >> 1;
      if (at[mid] < boxes[k][0]) low = mid + 1;
      else high = mid;
    }
    for (let q = low; q < at.length && at[q] <= boxes[k][1]; q++) {
      const v = sorted[q];
      if (v === from || v === to) continue;
      const y = table.coordinate(v, j);
      if (y < boxes[k][2] || y > boxes[k][3]) continue;
      if (table.turn(from, to, v, i, j) === 0 && between(table, from, to, v)) on.push(v);
    }
    const axis = longAxis(table, from, to);
    const way = table.compare(to, from, axis);
    on.sort((a, b) => way * table.compare(a, b, axis));
    const chain = [from, ...on, to];
    for (let q = 0; q + 1 < chain.length; q++) parts.push([chain[q], chain[q + 1]]);
  });
  return parts;
}
function subdivide(table, f, found, segments, given) {
  const points = new Set(found);
  for (const v of f.corners) points.add(v);
  for (const s of segments) points.add(s.from).add(s.to);
  const parts = partSegments(table, f, segments, points);
  const net = new PlaneNet(table, f);
  for (const v of points) net.addPoint(v);
  for (const [a, b] of parts) net.addEdge(a, b);
  for (const [a, b] of given(points)) net.addEdge(a, b);
  net.evenOut();
  return net.triangles();
}

// src/core/arrange/arrange.ts
function findCuts(mesh2, table, corners2, work) {
  const p = mesh2.positions;
  const facets = /* @__PURE__ */ new Map();
  const facet = (t) => {
    let f = facets.get(t);
    if (f === void 0) facets.set(t, f = facetOf(table, corners2[3 * t], corners2[3 * t + 1], corners2[3 * t + 2]));
    return f;
  };
  const cuts = /* @__PURE__ */ new Map();
  const cutsOf = (t) => {
    let c = cuts.get(t);
    if (!c) cuts.set(t, c = { points: /* @__PURE__ */ new Set(), segments: [], flat: [] });
    return c;
  };
  let pairs = 0;
  const same = { positions: p, triangles: corners2 };
  const apart = apartTest(same);
  visitSelfPairs(
    mesh2,
    buildBoxTree(mesh2),
    (s, t) => {
      if (apart(s, t)) return;
      const a = facet(s), b = facet(t);
      if (!a || !b) return;
      const m = meet(table, p, a, b);
      if (!m) return;
      pairs++;
      const c = cutsOf(s), d = cutsOf(t);
      for (const v of m.points) {
        if (!m.flat || holds(table, a, v)) c.points.add(v);
        if (!m.flat || holds(table, b, v)) d.points.add(v);
      }
      c.segments.push(...m.first);
      d.segments.push(...m.second);
      if (m.flat) {
        c.flat.push(t);
        d.flat.push(s);
      }
    },
    (share) => {
      checkStop(work);
      work.progress(share, "finding where triangles meet");
    }
  );
  return { cuts, facet, pairs };
}
var FaceTable = class {
  faces = [];
  times = [];
  from = [];
  also = /* @__PURE__ */ new Map();
  slots;
  constructor(expected) {
    this.slots = new Int32Array(1 << Math.ceil(Math.log2(2 * expected + 16))).fill(-1);
  }
  start(a, b, c) {
    const sum = (Math.imul(a, 2654435761) ^ a >>> 7) + (Math.imul(b, 2654435761) ^ b >>> 7) + (Math.imul(c, 2654435761) ^ c >>> 7);
    const h = Math.imul(sum, 2246822507);
    return (h ^ h >>> 15) & this.slots.length - 1;
  }
  grow() {
    const { faces } = this;
    this.slots = new Int32Array(2 * this.slots.length).fill(-1);
    for (let f = 0; f < this.from.length; f++) {
      let at = this.start(faces[3 * f], faces[3 * f + 1], faces[3 * f + 2]);
      while (this.slots[at] >= 0) at = at + 1 & this.slots.length - 1;
      this.slots[at] = f;
    }
  }
  add(a, b, c, from) {
    if (a === b || b === c || c === a) return;
    if (2 * this.from.length > this.slots.length) this.grow();
    const { faces } = this;
    let at = this.start(a, b, c);
    for (; this.slots[at] >= 0; at = at + 1 & this.slots.length - 1) {
      const f = this.slots[at];
      const i = faces[3 * f] === a ? 0 : faces[3 * f + 1] === a ? 1 : faces[3 * f + 2] === a ? 2 : -1;
      if (i < 0) continue;
      const next = faces[3 * f + (i + 1) % 3], last = faces[3 * f + (i + 2) % 3];
      if (!(next === b && last === c || next === c && last === b)) continue;
      this.times[f] += next === b ? 1 : -1;
      const list = this.also.get(f);
      if (list) list.push(from);
      else this.also.set(f, [from]);
      return;
    }
    this.slots[at] = this.from.length;
    faces.push(a, b, c);
    this.times.push(1);
    this.from.push(from);
  }
};
function arrange(mesh2, work = quiet) {
  const used = new Uint8Array(vertexCount(mesh2));
  for (const v of mesh2.triangles) used[v] = 1;
  const table = new PointTable(mesh2.positions, used);
  const corners2 = new Uint32Array(mesh2.triangles.length);
  for (let i = 0; i < corners2.length; i++) corners2[i] = table.standsFor(mesh2.triangles[i]);
  const { cuts, facet, pairs } = findCuts(mesh2, table, corners2, span2(work, 0, 0.5));
  const n = triangleCount(mesh2);
  const out = new FaceTable(n + 4 * cuts.size);
  const done = /* @__PURE__ */ new Map();
  let count = 0;
  const part = span2(work, 0.5, 1);
  for (let t = 0; t < n; t++) {
    const cut = cuts.get(t);
    if (!cut) {
      if (facet(t)) out.add(corners2[3 * t], corners2[3 * t + 1], corners2[3 * t + 2], t);
      continue;
    }
    if ((count++ & 63) === 0) {
      checkStop(work);
      part.progress(count / cuts.size, "cutting triangles");
    }
    const f = facet(t);
    const parts = subdivide(table, f, cut.points, cut.segments, (points2) => {
      const edges = [];
      for (const other of cut.flat) {
        const parts2 = done.get(other);
        if (!parts2) continue;
        for (let h = 0; h < parts2.length; h++) {
          const a = parts2[h], b = parts2[h % 3 === 2 ? h - 2 : h + 1];
          if (points2.has(a) && points2.has(b)) edges.push([a, b]);
        }
      }
      return edges;
    });
    if (cut.flat.length) done.set(t, parts);
    for (let i = 0; i < parts.length; i += 3) out.add(parts[i], parts[i + 1], parts[i + 2], t);
  }
  const total = table.size;
  const points = new Float64Array(3 * total);
  for (let v = 0; v < total; v++) for (let a = 0; a < 3; a++) points[3 * v + a] = table.millimetres(v, a);
  return {
    faces: Uint32Array.from(out.faces),
    times: Int32Array.from(out.times),
    from: Uint32Array.from(out.from),
    also: out.also,
    points,
    vertices: vertexCount(mesh2),
    cut: cuts.size,
    pairs
  };
}

// src/core/arrange/unite.ts
var crumbs = 1e-5;
function patchesOf(a) {
  const flat = { positions: new Float32Array(a.points.length), triangles: a.faces };
  const { twin, sameWay } = buildTopology(flat);
  const n = a.from.length;
  const patch = new Int32Array(n).fill(-1);
  const largest = [];
  const cross2 = new Float64Array(3);
  const stack = [];
  for (let s = 0; s < n; s++) {
    if (patch[s] >= 0) continue;
    const id = largest.length;
    let best = s, most = -1;
    patch[s] = id;
    stack.push(s);
    while (stack.length) {
      const f = stack.pop();
      const here = crossInto(a.points, a.faces, f, cross2);
      if (here > most) {
        most = here;
        best = f;
      }
      for (let h = 3 * f; h < 3 * f + 3; h++) {
        if (twin[h] < 0 || sameWay[h]) continue;
        const g = twin[h] / 3 | 0;
        if (patch[g] >= 0 || a.times[g] !== a.times[f]) continue;
        patch[g] = id;
        stack.push(g);
      }
    }
    largest.push(best);
  }
  return { patch, largest };
}
function unite(mesh2, work = quiet, counts) {
  const a = arrange(mesh2, span2(work, 0, 0.8));
  const { patch, largest } = patchesOf(a);
  const winding = new WindingNumber(mesh2);
  const fate = new Int8Array(largest.length);
  const elsewhere = [];
  largest.forEach((f, id) => {
    if ((id & 255) === 0) {
      checkStop(work);
      work.progress(0.8 + 0.2 * id / largest.length, "telling inside from outside");
    }
    const m = a.times[f];
    if (m === 0) return;
    const at = [0, 1, 2].map(
      (k) => (a.points[3 * a.faces[3 * f] + k] + a.points[3 * a.faces[3 * f + 1] + k] + a.points[3 * a.faces[3 * f + 2] + k]) / 3
    );
    const own2 = a.also.get(f);
    const skip = own2 ? /* @__PURE__ */ new Set([a.from[f], ...own2]) : null;
    const first = a.from[f];
    const middle2 = winding.at(at[0], at[1], at[2], skip ? (t) => skip.has(t) : (t) => t === first);
    const before = middle2 - m / 2 >= 0.5, behind = middle2 + m / 2 >= 0.5;
    fate[id] = behind && !before ? 1 : before && !behind ? -1 : 0;
    if (fate[id] && counts && !counts(at[0], at[1], at[2])) elsewhere.push(id);
  });
  if (elsewhere.length) {
    const area = new Float64Array(largest.length);
    const cross2 = new Float64Array(3);
    for (let f = 0; f < a.from.length; f++) if (fate[patch[f]]) area[patch[f]] += crossInto(a.points, a.faces, f, cross2);
    const whole = area.reduce((s, v) => s + v, 0);
    if (elsewhere.reduce((s, id) => s + area[id], 0) > crumbs * whole) for (const id of elsewhere) fate[id] = 0;
  }
  const faces = [];
  for (let f = 0; f < a.from.length; f++) {
    const keep = fate[patch[f]];
    if (!keep) continue;
    const [x, y, z] = [a.faces[3 * f], a.faces[3 * f + 1], a.faces[3 * f + 2]];
    if (keep > 0) faces.push(x, y, z);
    else faces.push(x, z, y);
  }
  const positions = new Float32Array(a.points);
  positions.set(mesh2.positions.subarray(0, 3 * a.vertices));
  return { mesh: compact({ positions, triangles: Uint32Array.from(faces) }), cut: a.cut, pairs: a.pairs };
}

// src/core/mend/unite-shells.ts
var hollowShare = 0.95;
var hollowSamples = 60;
function partOf(mesh2, facts, pieces) {
  const flags = new Uint8Array(triangleCount(mesh2));
  for (const i of pieces) for (const t of facts.triangles[i]) flags[t] = 1;
  if (!flags.includes(0)) return { part: mesh2, rest: null };
  return {
    part: keepTriangles(mesh2, flags).mesh,
    rest: keepTriangles(
      mesh2,
      flags.map((f) => 1 - f)
    ).mesh
  };
}
function faceShells(mesh2, facts = pieceFacts(mesh2)) {
  const inward2 = facts.volume.flatMap((v, i) => facts.sound[i] && v < 0 ? [i] : []);
  if (!inward2.length) return mesh2;
  const triangles = mesh2.triangles.slice();
  const turn = (i) => {
    for (const t of facts.triangles[i])
      [triangles[3 * t + 1], triangles[3 * t + 2]] = [triangles[3 * t + 2], triangles[3 * t + 1]];
  };
  for (const i of inward2) turn(i);
  const outward = { positions: mesh2.positions, triangles };
  const winding = new WindingNumber(outward);
  for (const i of inward2) {
    const list = facts.triangles[i];
    const step = Math.max(1, Math.floor(list.length / hollowSamples));
    let inside = 0, all = 0;
    for (let k = 0; k < list.length; k += step) {
      const t = list[k];
      const at = [0, 1, 2].map((a) => [0, 1, 2].reduce((s, c) => s + vertex(mesh2, triangles[3 * t + c])[a] / 3, 0));
      if (winding.at(at[0], at[1], at[2], (u) => u === t) >= 1) inside++;
      all++;
    }
    if (inside >= hollowShare * all) turn(i);
  }
  return outward;
}
function cutAlong(mesh2, work) {
  try {
    const u = unite(mesh2, span2(work, 0, 0.8));
    if (!u.pairs || !triangleCount(u.mesh)) return { mesh: mesh2, cut: 0, pairs: 0 };
    const clean = cleanUp(u.mesh);
    return { mesh: keepSound(clean, span2(work, 0.8, 1)), cut: u.cut, pairs: u.pairs };
  } catch (error) {
    if (error instanceof CutError) return { mesh: mesh2, cut: 0, pairs: 0 };
    throw error;
  }
}
function uniteShells(input, work = quiet) {
  const facts = pieceFacts(input);
  const closed = facts.sound.flatMap((s, i) => s ? [i] : []);
  if (!closed.length) return { mesh: input, cut: 0, pairs: 0 };
  const { part, rest } = partOf(faceShells(input, facts), facts, closed);
  const u = cutAlong(part, work);
  if (!u.pairs) return { mesh: input, cut: 0, pairs: 0 };
  return { ...u, mesh: rest ? concatMeshes([u.mesh, rest]) : u.mesh };
}
function uniteEach(input, pairs, work = quiet) {
  const facts = pieceFacts(input);
  const tangled = new Set(pairs);
  const pieces = facts.sound.flatMap((s, i) => s && facts.triangles[i].some((t) => tangled.has(t)) ? [i] : []);
  const { rest } = partOf(input, facts, pieces);
  let cut = 0, met = 0;
  const parts = pieces.map((i, k) => {
    const { part } = partOf(input, facts, [i]);
    const turned = (m) => ({ positions: m.positions, triangles: flipTriangles(m.triangles) });
    const hollow = facts.volume[i] < 0;
    const u = cutAlong(hollow ? turned(part) : part, span2(work, k / pieces.length, (k + 1) / pieces.length));
    cut += u.cut;
    met += u.pairs;
    return hollow ? turned(u.mesh) : u.mesh;
  });
  return met ? { mesh: concatMeshes(rest ? [...parts, rest] : parts), cut, pairs: met } : { mesh: input, cut, pairs: 0 };
}

// src/core/mend/resolve-crossings.ts
var tangleShare = 0.04;
var tangleTriangles = 400;
var openShare = 0.12;
var crumbShare = 1e-4;
function withinPieces(mesh2, pairs) {
  const { piece } = findPieces(mesh2, buildTopology(mesh2));
  const own2 = [];
  for (let i = 0; i < pairs.length; i += 2)
    if (piece[pairs[i]] === piece[pairs[i + 1]]) own2.push(pairs[i], pairs[i + 1]);
  return Uint32Array.from(own2);
}
var isSmall = (k, size2) => k.pieces === 1 && k.reach <= tangleShare * size2 && k.triangles.length <= tangleTriangles;
function resolveCrossings(start, {
  apart = false,
  folds = false,
  rounds = 8,
  known
} = {}, work = quiet) {
  let mesh2 = start, cut = 0, united = false;
  const own2 = (m, pairs2) => apart ? withinPieces(m, pairs2) : pairs2;
  const tanglesOf = (m, pairs2) => {
    const size3 = diagonal(meshBounds(m));
    const tangles2 = crossingClusters(m, pairs2);
    return { all: tangles2, long: tangles2.some((k) => !isSmall(k, size3)) };
  };
  let pairs = own2(mesh2, known ?? findSelfCrossings(mesh2, span2(work, 0, 0.15)));
  const before = pairs.length / 2;
  let tangles = tanglesOf(mesh2, pairs);
  if (tangles.long) {
    const cutting = span2(work, 0.15, 0.6);
    const u = apart ? uniteEach(mesh2, pairs, cutting) : uniteShells(mesh2, cutting);
    if (u.pairs) {
      united = true;
      cut = u.cut;
      mesh2 = tidy2(clearSpecks(u.mesh, { share: crumbShare }).mesh, span2(work, 0.6, 0.65));
      pairs = own2(mesh2, findSelfCrossings(mesh2, span2(work, 0.65, 0.75)));
      tangles = tanglesOf(mesh2, pairs);
    }
  }
  const part = span2(work, 0.75, 1);
  const size2 = diagonal(meshBounds(mesh2));
  const inSmall = new Set(
    tangles.all.flatMap(
      (k) => isSmall(k, size2) || k.pieces === 1 && k.reach <= openShare * size2 ? k.triangles : []
    )
  );
  const tangled = pairs.filter((t) => inSmall.has(t));
  let removed = 0, after = united || apart || folds ? null : pairs.length / 2;
  if (tangled.length || folds && findFolded(mesh2, buildTopology(mesh2)).length) {
    const each = (piece) => {
      const u = untangle(piece, { folds, rounds, known: apart ? void 0 : tangled }, part);
      removed += u.removed;
      if (after !== null) after += u.after - u.before;
      return u.mesh;
    };
    mesh2 = apart ? concatMeshes(takeApart(mesh2, 0).pieces.map(each)) : each(mesh2);
  }
  return { mesh: mesh2, before, after, cut, removed, united };
}

// src/core/mend/mend-all.ts
function holesOf2(s, closeBorder) {
  if (closeBorder) return () => true;
  const border = new Set(s.rims.flatMap((rim, r2) => s.border[r2] ? rim.halfEdges : []));
  return (rim) => !border.has(rim.halfEdges[0]);
}
function bordersOf(s) {
  const rims = s.rims.filter((_, r2) => s.border[r2]);
  return { borders: rims.length, borderEdges: rims.reduce((n, rim) => n + rim.halfEdges.length, 0) };
}
var quietOf = (work) => ({ signal: work.signal, progress: () => {
} });
var faultsOf = (s) => faultCount(s.facts) - Math.min(s.borderEdges, s.facts.openEdges) - s.between;
function firstPass(input, choice, work) {
  work.progress(0.12, "welding");
  const welded = weldMesh(dropBadCoordinates(input).mesh, choice.weldWithin);
  if (!triangleCount(welded.mesh))
    throw new StepError("empty", "Every triangle of this mesh is smaller than the welding distance.", {
      tryThis: "Set a smaller welding distance, or scale the body up first."
    });
  work.progress(0.16, "clearing specks");
  const specks = clearSpecks(welded.mesh, { share: choice.speckShare, closedShare: choice.speckShare / 3 });
  const scanned = specks.mesh;
  work.progress(0.2, "facing outward");
  const found = survey(cleanUp(scanned, false));
  const words = surveyWords(found);
  const first = choice.closeBorder ? { borders: 0, borderEdges: 0 } : bordersOf(found);
  const single = dropDoubled(found);
  let mesh2 = faceOutward(single.mesh, work).mesh;
  mesh2 = smoothFolds(mesh2, {}, span2(work, 0.24, 0.3)).mesh;
  let seen = survey(mesh2);
  const plates = joinPlateSides(seen);
  if (plates.joined) seen = survey(plates.mesh);
  const filled = closeHoles(
    seen.mesh,
    { how: choice.fill, scraps: true, accept: holesOf2(seen, false) },
    span2(work, 0.3, 0.43)
  );
  mesh2 = filled.mesh;
  if (choice.closeBorder) mesh2 = closeBorders(mesh2, choice.fill, span2(work, 0.43, 0.45));
  mesh2 = splitNonManifold(mesh2).mesh;
  return {
    ...{ mesh: mesh2, scanned, welded, specks, filled, seen: words, ...first },
    ...{ doubled: single.dropped, plates: plates.joined }
  };
}
function judged(mesh2, united, choice, work) {
  const {
    checkUp: { facts },
    crossings
  } = inspect(mesh2, work);
  const apart = choice.keepApart ?? false;
  return {
    ...{ mesh: mesh2, facts, crossings, united },
    ...facts.openEdges && !choice.closeBorder ? bordersOf(survey(mesh2)) : { borders: 0, borderEdges: 0 },
    between: apart && facts.selfCrossings ? facts.selfCrossings - withinPieces(mesh2, crossings).length / 2 : 0
  };
}
function resolved(start, choice, work) {
  const apart = choice.keepApart ?? false;
  let mesh2 = start;
  let stage = judged(mesh2, false, choice, span2(work, 0.45, 0.55));
  const stages = [stage];
  let cut = 0, united = false;
  for (let round = 0; round < 3 && faultsOf(stage) > 0; round++) {
    const part = span2(work, 0.55 + round * 0.13, 0.55 + (round + 1) * 0.13);
    checkStop(work);
    const known = stage.mesh === mesh2 ? stage.crossings : null;
    const free = resolveCrossings(mesh2, { apart, folds: true, known: known ?? void 0 }, span2(part, 0, 0.75));
    cut += free.cut;
    united ||= free.united;
    mesh2 = tidy2(free.mesh, work);
    if (buildTopology(mesh2).openEdges) {
      const accept = holesOf2(survey(mesh2), choice.closeBorder ?? false);
      mesh2 = closeHoles(mesh2, { how: round < 2 ? choice.fill : "flat", accept }, work).mesh;
    }
    stage = judged(mesh2, united, choice, span2(part, 0.75, 1));
    stages.push(stage);
    if (stage.facts.folded) mesh2 = smoothFolds(mesh2, { rings: 2, passes: 16 }, work).mesh;
  }
  return { stages, cut };
}
function bestOf(stages, start, scanned, work) {
  const unsound = new Uint8Array(triangleCount(scanned));
  for (const t of [...findDegenerate(scanned), ...findFolded(scanned, buildTopology(scanned))]) unsound[t] = 1;
  const measure = (s) => loyaltyOf(scanned, s.mesh, { unsound, united: s.united, quick: true, work: quietOf(work) });
  const row = [...stages.filter((s) => faultsOf(s) <= faultsOf(start)).sort((a, b) => faultsOf(a) - faultsOf(b)), start];
  let best = row[0], loyalty = measure(best);
  for (const other of row.slice(1)) {
    if (loyalty.lost <= mostLost) break;
    const l = measure(other);
    if (l.lost >= loyalty.lost) continue;
    best = other;
    loyalty = l;
  }
  return { best, loyalty };
}
function mendAll(input, choice, work = quiet) {
  if (!triangleCount(input))
    throw new StepError("empty", "There is no triangle to mend.", { tryThis: "Bring in a file that holds a skin." });
  const before = checkUp(input, span2(work, 0, 0.12)).facts;
  if (faultCount(before) === 0)
    return {
      ...{ mesh: input, before, after: before, welded: 0, specks: 0, speckShare: 0, holesClosed: 0, longestRim: 0 },
      ...{ doubled: 0, plates: 0, cut: 0, bordersBefore: 0, borders: 0, borderEdges: 0, between: 0 },
      seen: surveyWords(survey(input)),
      loyalty: loyaltyOf(input, input)
    };
  const first = firstPass(input, choice, work);
  const { borders, borderEdges, specks, welded, filled } = first;
  const { stages, cut } = resolved(first.mesh, choice, work);
  const start = { mesh: input, facts: before, crossings: null, borders, borderEdges, between: 0, united: false };
  const { best, loyalty } = bestOf(stages, start, first.scanned, work);
  work.progress(1, faultsOf(best) ? `left: ${faultWords(best.facts)}` : "sound");
  const kept = best.mesh !== input;
  return {
    ...{ mesh: best.mesh, before, after: best.facts, loyalty, seen: first.seen },
    ...{ bordersBefore: borders, borders: best.borders, borderEdges: best.borderEdges },
    between: best.between,
    welded: welded.joined,
    specks: kept ? specks.removed : 0,
    speckShare: kept ? specks.area / (meshArea(welded.mesh) || 1) : 0,
    holesClosed: kept ? filled.closed : 0,
    longestRim: kept ? filled.longest : 0,
    doubled: kept ? first.doubled : 0,
    plates: kept ? first.plates : 0,
    cut: best.united ? cut : 0
  };
}

// ../../tmp/q/s.ts
var mesh = spiky(8);
console.log(triangleCount(mesh));
var time = async (n, c) => {
  console.log(n);
  const t = performance.now();
  let w = "";
  try {
    await c();
  } catch (e) {
    w = e.message.slice(0, 60);
  }
  ;
  const ms = Math.round(performance.now() - t);
  console.log(n, ms, w);
};
var r = new Uint8Array(triangleCount(mesh)).fill(1, 0, 2);
await time("cut", () => cutAndRefill(mesh, r, { how: "smooth" }));
for (const how of ["flat", "smooth", "curvature"]) await time("close" + how, () => closeHoles(mesh, { how }));
for (const how of ["even", "fair", "keep-sharp"]) await time("smooth" + how, () => smooth(mesh, { how, strength: 0.5, passes: 3, rim: "pinned" }));
for (const order of [1, 2, 3]) await time("fair" + order, () => fairVertices(mesh, [0, 3, 5], order));
await time("simplify", () => simplify(mesh, { triangles: Math.floor(triangleCount(mesh) / 2) }));
await time("collapse", () => collapseEdges(mesh, { triangles: Math.floor(triangleCount(mesh) / 3) }));
await time("untangle", () => untangle(mesh, { rounds: 2 }));
await time("mend", () => mendAll(mesh, { speckShare: 0.02, fill: "flat" }));
await time("refine", () => refine(mesh, { edge: 4, rounds: 2, most: 6e3 }));
process.exit(0);
