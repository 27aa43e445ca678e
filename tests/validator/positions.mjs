// Where every vertex of a glTF stands in the world, by a reader that shares nothing with Tack Point: accessors come from
// @gltf-transform/core, and what nodes, joints, morph targets and animations make of them is worked out here.
import {createRequire} from 'node:module';
import {NodeIO, Logger} from '@gltf-transform/core';
import {ALL_EXTENSIONS} from '@gltf-transform/extensions';
import {MeshoptDecoder} from 'meshoptimizer';
const require = createRequire(import.meta.url);
const draco3d = require('draco3dgltf');

// Reads a file: {document, matrices}, the matrices of those nodes that have one.
export async function makeReader() {
  await MeshoptDecoder.ready;
  const io = new NodeIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({'draco3d.decoder': await draco3d.createDecoderModule(), 'meshopt.decoder': MeshoptDecoder});
  return async (file) => {
    const json = await io.readAsJSON(file);
    const matrices = (json.json.nodes ?? []).map((n) => n.matrix ?? null);
    return {document: await io.readJSON(json), matrices};
  };
}

// 4 × 4, columns first, in double.
function multiply(a, b) {
  const out = new Float64Array(16);
  for (let c = 0; c < 4; ++c)
    for (let r = 0; r < 4; ++r) {
      let sum = 0;
      for (let k = 0; k < 4; ++k) sum += a[k * 4 + r] * b[c * 4 + k];
      out[c * 4 + r] = sum;
    }
  return out;
}

function compose(t, q, s) {
  const length = Math.hypot(...q) || 1;
  const [x, y, z, w] = q.map((v) => v / length);
  return Float64Array.of(
    (1 - 2 * (y * y + z * z)) * s[0], 2 * (x * y + z * w) * s[0], 2 * (x * z - y * w) * s[0], 0,
    2 * (x * y - z * w) * s[1], (1 - 2 * (x * x + z * z)) * s[1], 2 * (y * z + x * w) * s[1], 0,
    2 * (x * z + y * w) * s[2], 2 * (y * z - x * w) * s[2], (1 - 2 * (x * x + y * y)) * s[2], 0, t[0], t[1], t[2], 1);
}

const elements = (accessor) => {
  const size = accessor.getElementSize();
  return Array.from({length: accessor.getCount()}, (_, i) => Array.from(accessor.getElement(i, new Array(size).fill(0))));
};

function slerp(a, b, u) {
  let dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = dot < 0 ? -1 : 1;
  dot = Math.abs(dot);
  if (dot > 1 - 1e-9) return a.map((v, i) => v + (sign * b[i] - v) * u);
  const angle = Math.acos(dot), sine = Math.sin(angle);
  return a.map((v, i) => (Math.sin((1 - u) * angle) * v + sign * Math.sin(u * angle) * b[i]) / sine);
}

// The value of a sampler at a time; `width` numbers.
function sampled(sampler, time, width, rotation) {
  const times = Array.from(sampler.getInput().getArray(), Number);
  const flat = elements(sampler.getOutput()).flat();
  const cubic = sampler.getInterpolation() === 'CUBICSPLINE';
  const at = (k, part = 1) => {
    const from = cubic ? (k * 3 + part) * width : k * width;
    return flat.slice(from, from + width);
  };
  const last = times.length - 1;
  if (time <= times[0]) return at(0);
  if (time >= times[last]) return at(last);
  let k = 0;
  while (times[k + 1] <= time) ++k;
  const step = times[k + 1] - times[k], u = (time - times[k]) / step;
  if (sampler.getInterpolation() === 'STEP') return at(k);
  if (!cubic) return rotation ? slerp(at(k), at(k + 1), u) : at(k).map((v, i) => v + (at(k + 1)[i] - v) * u);
  const [p0, m0, p1, m1] = [at(k), at(k, 2), at(k + 1), at(k + 1, 0)], u2 = u * u, u3 = u2 * u;
  return p0.map((v, i) => (2 * u3 - 3 * u2 + 1) * v + step * (u3 - 2 * u2 + u) * m0[i] + (3 * u2 - 2 * u3) * p1[i] +
                          step * (u3 - u2) * m1[i]);
}

// The inverse of an affine matrix, by cofactors; null where there is none.
function inverted(m) {
  const at = (r, c) => m[c * 4 + r];
  const cofactor = (r, c) => {
    const [a, b] = [(r + 1) % 3, (r + 2) % 3], [d, e] = [(c + 1) % 3, (c + 2) % 3];
    return at(a, d) * at(b, e) - at(a, e) * at(b, d);
  };
  const determinant = at(0, 0) * cofactor(0, 0) + at(0, 1) * cofactor(0, 1) + at(0, 2) * cofactor(0, 2);
  if (!(Math.abs(determinant) > 0)) return null;
  const out = new Float64Array(16);
  for (let c = 0; c < 3; ++c) for (let r = 0; r < 3; ++r) out[c * 4 + r] = cofactor(c, r) / determinant;
  for (let r = 0; r < 3; ++r) out[12 + r] = -(out[r] * m[12] + out[4 + r] * m[13] + out[8 + r] * m[14]);
  out[15] = 1;
  return out;
}

// The world matrices of all nodes below the scene: {node: matrix}. `local` has the matrix of a node in its parent;
// `pushed` what stands between the two.
function worlds(document, local, pushed) {
  const world = new Map(), root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const identity = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  const walk = (node, parent) => {
    const push = pushed.get(node), below = push ? multiply(parent, push) : parent;
    world.set(node, multiply(below, local(node)));
    for (const child of node.listChildren()) walk(child, world.get(node));
  };
  for (const node of scene ? scene.listChildren() : root.listNodes().filter((n) => !n.getParentNode()))
    walk(node, identity);
  return world;
}

// What stands above each node so that, at rest, it is moved by what `moves` says (metres, in the world): W⁻¹·T·W, with
// the world W of its parent at rest and T what it is moved by beyond its parent. As it stands above what is animated,
// it goes along with the parent and leaves the node's own animation as it is.
function pushes(nodes, number, moves, rest) {
  const pushed = new Map();
  const total = (node) => (node && (moves.get(String(number.get(node))) ?? total(node.getParentNode()))) ||
                          moves.get('') || [0, 0, 0];
  for (const node of nodes) {
    const parent = node.getParentNode();
    const [own, parents] = [total(node), parent ? total(parent) : [0, 0, 0]];
    const by = own.map((v, i) => v - parents[i]);
    if (by.every((v) => v === 0)) continue;
    const shift = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...by, 1);
    const world = parent && rest.get(parent), back = world && inverted(world);
    if (parent && !back) throw new Error(`node ${number.get(node)} was moved in a parent that has no inverse`);
    pushed.set(node, parent ? multiply(multiply(back, shift), world) : shift);
  }
  return pushed;
}

// The world positions of the mesh of every node below the document's scene, by the node's number: a list of primitives,
// each a list of [x, y, z] in metres. `moment` is {animation, time} or null for the document at rest; `moves` how far
// nodes were moved (see `pushes`).
export function positionsOf({document, matrices}, moment, moves = new Map()) {
  const root = document.getRoot(), nodes = root.listNodes();
  const number = new Map(nodes.map((n, i) => [n, i]));
  const moved = new Map(nodes.map((n) => [n, {translation: n.getTranslation(), rotation: n.getRotation(),
                                              scale: n.getScale(), weights: null}]));
  if (moment) {
    const animation = root.listAnimations()[moment.animation];
    for (const channel of animation.listChannels()) {
      const node = channel.getTargetNode(), sampler = channel.getSampler();
      if (!node || !sampler?.getInput() || !sampler.getOutput()) continue;
      const path = channel.getTargetPath();
      const keys = sampler.getInput().getCount() * (sampler.getInterpolation() === 'CUBICSPLINE' ? 3 : 1);
      const width = path === 'weights' ? elements(sampler.getOutput()).flat().length / keys
                                       : path === 'rotation' ? 4 : 3;
      moved.get(node)[path] = sampled(sampler, moment.time, width, path === 'rotation');
    }
  }
  // The library takes matrices apart, which not all of them bear: those of the file itself count.
  const standing = (node) => matrices[number.get(node)] ??
                             compose(node.getTranslation(), node.getRotation(), node.getScale());
  const moving = (node) => {
    const p = moved.get(node);
    return matrices[number.get(node)] ?? compose(p.translation, p.rotation, p.scale);
  };
  const identity = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  const pushed = moves.size === 0 ? new Map()
                                  : pushes(nodes, number, moves, worlds(document, standing, new Map()));
  const world = worlds(document, moving, pushed);
  const result = new Map();
  for (const [node, matrix] of world) {
    const mesh = node.getMesh(), skin = node.getSkin();
    if (!mesh) continue;
    const weights = moved.get(node).weights ?? (node.getWeights().length > 0 ? node.getWeights() : mesh.getWeights());
    const binds = skin?.getInverseBindMatrices();
    const joints = skin?.listJoints().map((joint, j) =>
      multiply(world.get(joint) ?? identity, binds ? Float64Array.from(binds.getElement(j, [])) : identity));
    result.set(number.get(node), mesh.listPrimitives().map((primitive) => {
      const position = primitive.getAttribute('POSITION');
      if (!position) return [];
      const points = elements(position);
      primitive.listTargets().forEach((target, t) => {
        const offsets = target.getAttribute('POSITION');
        if (!offsets || !weights[t]) return;
        elements(offsets).forEach((o, v) => o.forEach((d, i) => { points[v][i] += weights[t] * d; }));
      });
      const sets = [];
      for (let s = 0; joints && primitive.getAttribute(`JOINTS_${s}`); ++s)
        sets.push([elements(primitive.getAttribute(`JOINTS_${s}`)), elements(primitive.getAttribute(`WEIGHTS_${s}`))]);
      return points.map((p, v) => {
        let m = matrix;
        if (sets.length > 0) {
          m = new Float64Array(16);
          for (const [js, ws] of sets)
            for (let k = 0; k < 4; ++k)
              if (ws[v][k] !== 0) for (let i = 0; i < 16; ++i) m[i] += ws[v][k] * joints[js[v][k]][i];
        }
        return [0, 1, 2].map((r) => m[r] * p[0] + m[4 + r] * p[1] + m[8 + r] * p[2] + m[12 + r]);
      });
    }));
  }
  return result;
}

// The moments at which animations are looked at: 0.2, 0.45 and 0.8 of each.
export function momentsOf({document}) {
  const moments = [null];
  document.getRoot().listAnimations().forEach((animation, a) => {
    let end = 0;
    for (const sampler of animation.listSamplers())
      if (sampler.getInput()) for (const t of sampler.getInput().getArray()) end = Math.max(end, t);
    for (const share of [0.2, 0.45, 0.8]) moments.push({animation: a, time: share * end});
  });
  return moments;
}
