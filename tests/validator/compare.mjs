// compare.mjs JOBS.json: for each job {source, written, by, bound} whether every vertex of every node of `source` stands
// in `written` where it stood, at rest and in three moments of each animation, and whether the glTF validator has no
// error and no warning of `written` that it has not of `source`. `by` has, by the number of a node, how far it and what
// hangs in it was moved by the time all moves were made (millimetres, Z up; a node that it does not name went with its
// parent; "" stands for what hangs in none). Nodes are told by their numbers, which `written` keeps. Prints what is
// wrong, and how far the worst vertex is off as a share of the extent; exit 0 when nothing is wrong.
import {readFileSync} from 'node:fs';
import {createRequire} from 'node:module';
import {dirname, join} from 'node:path';
import {makeReader, positionsOf, momentsOf} from './positions.mjs';
const validator = createRequire(import.meta.url)('gltf-validator');

const read = await makeReader();
const issues = async (file) => {
  const report = await validator.validateBytes(new Uint8Array(readFileSync(file)), {
    maxIssues: 100000,
    externalResourceFunction: async (uri) => new Uint8Array(readFileSync(join(dirname(file), decodeURIComponent(uri)))),
  });
  const codes = new Map();
  for (const m of report.issues.messages) if (m.severity <= 1) codes.set(m.code, [...(codes.get(m.code) ?? []), m]);
  return codes;
};

async function compare({source, written, by, bound}) {
  const moves = new Map(Object.entries(by).map(([node, [x, y, z]]) => [node, [x / 1000, z / 1000, -y / 1000]]));
  const farthest = Math.max(0, ...[...moves.values()].map((m) => Math.hypot(...m)));
  let before;
  try {
    before = await read(source);
  } catch (error) {
    // What the other reader refuses it cannot judge; which files those are is for the caller to know.
    unread.add(source);
    return [0, 0];
  }
  const after = await read(written);
  const was = await issues(source);
  for (const [code, messages] of await issues(written))
    if (messages.length > (was.get(code)?.length ?? 0))
      throw new Error(`the validator: ${messages.length} × ${code}, first ${messages[0].pointer}: ${messages[0].message}`);
  const counts = [before, after].map((d) => d.document.getRoot().listAnimations().length);
  if (counts[0] !== counts[1]) throw new Error(`${counts[0]} animations became ${counts[1]}`);
  const numbers = new Map(after.document.getRoot().listNodes().map((n, i) => [n, i]));
  let worst = 0, vertices = 0;
  for (const moment of momentsOf(before)) {
    const there = positionsOf(before, moment, moves), is = positionsOf(after, moment);
    const low = [Infinity, Infinity, Infinity], high = [-Infinity, -Infinity, -Infinity];
    for (const primitives of there.values())
      for (const points of primitives)
        for (const p of points)
          for (let i = 0; i < 3; ++i) low[i] = Math.min(low[i], p[i]), high[i] = Math.max(high[i], p[i]);
    const extent = Math.max(1e-9, ...high.map((h, i) => Math.max(h - low[i], Math.abs(h), Math.abs(low[i])))) +
                   farthest;
    for (const [node, primitives] of there) {
      // Where a bake is undone below an animated node, the mesh stands one or two nodes further down.
      const alike = (other) => other && other.length === primitives.length &&
                               other.every((points, p) => points.length === primitives[p].length);
      let found = is.get(node), level = [after.document.getRoot().listNodes()[node]];
      for (let depth = 0; !found && depth < 3; ++depth) {
        level = level.flatMap((n) => n.listChildren());
        for (const n of level) if (!found && alike(is.get(numbers.get(n)))) found = is.get(numbers.get(n));
      }
      if (!alike(found)) throw new Error(`node ${node} has not the mesh that it had`);
      primitives.forEach((points, p) => points.forEach((point, v) => {
        const off = Math.hypot(...point.map((c, i) => found[p][v][i] - c)) / extent;
        ++vertices;
        worst = Math.max(worst, off);
        if (!(off <= (bound ?? 1e-6)))
          throw new Error(`node ${node}, primitive ${p}, vertex ${v} is off by ${off} of the extent` +
                          (moment ? ` in animation ${moment.animation} at ${moment.time} s` : ' at rest'));
      }));
    }
  }
  return [vertices, worst];
}

let wrong = 0, vertices = 0, worst = 0;
const unread = new Set();
const jobs = JSON.parse(readFileSync(process.argv[2], 'utf8'));
for (const job of jobs) {
  try {
    const [count, off] = await compare(job);
    vertices += count;
    worst = Math.max(worst, off);
  } catch (error) {
    ++wrong;
    console.log(`${job.source} as ${job.written}: ${error.message ?? error}`);
  }
}
for (const file of unread) console.log(`not judged: ${file}`);
console.log(`${jobs.length - wrong} of ${jobs.length} documents, ${vertices} vertices, worst ${worst.toExponential(1)}`);
process.exit(wrong === 0 ? 0 : 1);
