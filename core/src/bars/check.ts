/**
 * What a map of bus bars does with the modules as they really lie: joins them, leaves them apart, or shorts them. Kirchhoff's laws on a
 * plain network: places joined by bars are one node, bars have no resistance, each module is a voltage with its resistance.
 */
import { postAt, postIndex, readPost, type PostName } from '../pack/post.ts';
import { answer, refuse, type Refusal, type Result } from '../result.ts';
import { solveLinear } from './solve.ts';

export interface LaidModule {
  /** Where it lies, from 1. */
  readonly position: number;
  readonly volt: number;
  readonly milliohm: number;
  /** End for end: its minus lies where its plus belongs. */
  readonly turned: boolean;
}

/** Two posts that a bar joins, each named by the place where it belongs: `3+` is where the plus of position 3 should be. */
export type Bar = readonly [string, string];

export interface BarsInput {
  readonly modules: readonly LaidModule[];
  readonly bars: readonly Bar[];
  readonly outputs: { readonly positive: string; readonly negative: string };
  readonly channels?: readonly { readonly id: string; readonly upper: string; readonly lower: string }[] | undefined;
  /** The bars that belong there: those of a fault that are not among them are named. */
  readonly map?: readonly Bar[] | undefined;
}

export const BAR_FAULTS = ['short', 'parallel', 'open', 'turned', 'reversedOutput'] as const;

export interface BarFault {
  readonly kind: (typeof BAR_FAULTS)[number];
  /** Posts of the bars that make it and do not belong there, in string order; of `reversedOutput` the two outputs. */
  readonly posts: readonly PostName[];
  /** Modules concerned, ascending. */
  readonly modules: readonly number[];
  /** Largest current of a module of a `short` or a `parallel` ring; else null. */
  readonly ampere: number | null;
}

export interface BarsAnswer {
  /** Between the outputs; null where nothing joins them. */
  readonly outputVolt: number | null;
  readonly faults: readonly BarFault[];
  /** What each sense channel reads, upper less lower; null where nothing joins its posts. */
  readonly channels: readonly { readonly id: string; readonly volt: number | null }[];
}

/** Less than this, in ampere, is no current that anybody could measure or feel. */
const NO_AMPERE = 1e-3;
const MAXIMUM_POSITION = 2000;

/** See the file's head. Refusals: `empty`, `unknownName` for posts, `mismatch` for a position twice, `impossible` for a resistance. */
export function checkBars(input: BarsInput): Result<BarsAnswer> {
  const refusal = refuseInput(input);
  if (refusal) return refusal;
  const net = buildNet(input);
  const volts = findVolts(net);
  const between = (upper: string, lower: string): number | null => {
    const [u, l] = [net.nodeOf(upper), net.nodeOf(lower)];
    return net.islandOf[u] === net.islandOf[l] ? tidy((volts[u] ?? 0) - (volts[l] ?? 0)) : null;
  };
  const outputVolt = between(input.outputs.positive, input.outputs.negative);
  const faults = [...findRings(net, volts, input), ...findIslands(net, input.outputs.negative)];
  for (const { position, turned } of net.modules) if (turned) faults.push({ kind: 'turned', posts: [], modules: [position], ampere: null });
  if (outputVolt !== null && outputVolt < 0) {
    const posts = [input.outputs.positive, input.outputs.negative] as PostName[];
    faults.push({ kind: 'reversedOutput', posts, modules: [], ampere: null });
  }
  return answer({
    outputVolt,
    faults: faults.sort((a, b) => BAR_FAULTS.indexOf(a.kind) - BAR_FAULTS.indexOf(b.kind)),
    channels: (input.channels ?? []).map(({ id, upper, lower }) => ({ id, volt: between(upper, lower) })),
  });
}

/** No minus nought, and no digits that come of adding up. */
function tidy(volt: number): number {
  return Math.abs(volt) < 1e-9 ? 0 : volt;
}

function refuseInput({ modules, bars, outputs, channels = [], map = [] }: BarsInput): Refusal | null {
  if (modules.length === 0) return refuse('empty', 'A map needs at least one module.', ['modules']);
  const lying = new Set<number>();
  for (const [i, { position, milliohm }] of modules.entries()) {
    if (!Number.isInteger(position) || position < 1 || position > MAXIMUM_POSITION)
      return refuse('impossible', `There is no position ${position}.`, ['modules', i, 'position']);
    if (lying.has(position)) return refuse('mismatch', `Position ${position} stands twice.`, ['modules', i, 'position']);
    if (!(milliohm > 0)) return refuse('impossible', 'A module has a resistance above zero.', ['modules', i, 'milliohm']);
    lying.add(position);
  }
  const refusePost = (post: string, path: readonly (string | number)[]): Refusal | null => {
    const read = readPost(post, MAXIMUM_POSITION);
    return read && lying.has(read.module) ? null : refuse('unknownName', `There is no post "${post}".`, path);
  };
  const asked: [string, (string | number)[]][] = [
    ...bars.flatMap((bar, i) => bar.map((post, j): [string, (string | number)[]] => [post, ['bars', i, j]])),
    ...map.flatMap((bar, i) => bar.map((post, j): [string, (string | number)[]] => [post, ['map', i, j]])),
    [outputs.positive, ['outputs', 'positive']],
    [outputs.negative, ['outputs', 'negative']],
    ...channels.flatMap(({ upper, lower }, i): [string, (string | number)[]][] => [
      [upper, ['channels', i, 'upper']],
      [lower, ['channels', i, 'lower']],
    ]),
  ];
  for (const [post, path] of asked) {
    const refusal = refusePost(post, path);
    if (refusal) return refusal;
  }
  return null;
}

interface NetModule extends LaidModule {
  /** Nodes of the places where its plus and minus belong. */
  readonly plus: number;
  readonly minus: number;
  /** Voltage of `plus` above `minus` without load. */
  readonly emf: number;
}

interface Net {
  readonly modules: readonly NetModule[];
  readonly nodeCount: number;
  readonly nodeOf: (post: string) => number;
  /** Island of each node. */
  readonly islandOf: readonly number[];
}

function indexOf(post: string): number {
  const read = readPost(post, MAXIMUM_POSITION);
  return read ? postIndex(read.module, read.sign) : -1;
}

/** Groups that grow together. */
class Groups {
  readonly #parent = new Map<number, number>();

  find(a: number): number {
    let root = a;
    for (let up = this.#parent.get(root); up !== undefined && up !== root; up = this.#parent.get(root)) root = up;
    this.#parent.set(a, root);
    return root;
  }

  join(a: number, b: number): void {
    this.#parent.set(this.find(a), this.find(b));
  }
}

function buildNet({ modules, bars }: BarsInput): Net {
  const joined = new Groups();
  for (const [a, b] of bars) joined.join(indexOf(a), indexOf(b));
  const numbers = new Map<number, number>();
  const node = (index: number): number => {
    const root = joined.find(index);
    const known = numbers.get(root) ?? numbers.size;
    numbers.set(root, known);
    return known;
  };
  const laid = [...modules]
    .sort((a, b) => a.position - b.position)
    .map((m): NetModule => {
      const [minus, plus] = [node(postIndex(m.position, '-')), node(postIndex(m.position, '+'))];
      return { ...m, plus, minus, emf: m.turned ? -m.volt : m.volt };
    });
  const islands = new Groups();
  for (const { plus, minus } of laid) islands.join(plus, minus);
  const islandOf = Array.from({ length: numbers.size }, (_, i) => islands.find(i));
  return { modules: laid, nodeCount: numbers.size, nodeOf: (post) => node(indexOf(post)), islandOf };
}

/** Voltage of each node above the first of its island. */
function findVolts({ modules, nodeCount, islandOf }: Net): number[] {
  const volts = Array.from({ length: nodeCount }, () => 0);
  for (const island of new Set(islandOf)) {
    const own = islandOf.flatMap((of, n) => (of === island ? [n] : []));
    const row = new Map(own.slice(1).map((n, i) => [n, i]));
    const matrix = Array.from({ length: row.size }, () => new Float64Array(row.size + 1));
    for (const { plus, minus, emf, milliohm } of modules) {
      if (plus === minus || islandOf[plus] !== island) continue;
      const siemens = 1000 / milliohm;
      for (const [here, there, drive] of [
        [plus, minus, emf],
        [minus, plus, -emf],
      ] as const) {
        const at = row.get(here);
        const line = at === undefined ? undefined : matrix[at];
        if (at === undefined || !line) continue;
        const other = row.get(there);
        line[at] = (line[at] ?? 0) + siemens;
        if (other !== undefined) line[other] = (line[other] ?? 0) - siemens;
        line[row.size] = (line[row.size] ?? 0) + siemens * drive;
      }
    }
    for (const [n, volt] of solveLinear(matrix).entries()) volts[own[n + 1] ?? 0] = volt;
  }
  return volts;
}

/** Each part of the map in which modules lie on a common ring, with what flows in it. */
function findRings(net: Net, volts: readonly number[], { bars, map }: BarsInput): BarFault[] {
  return listRings(net).map((ring): BarFault => {
    const ampereOf = ({ plus, minus, emf, milliohm }: NetModule): number =>
      (Math.abs(emf - ((volts[plus] ?? 0) - (volts[minus] ?? 0))) * 1000) / milliohm;
    const ampere = Math.max(...ring.map(ampereOf));
    const isShort = ampere > NO_AMPERE;
    const concerned = isShort ? ring.filter((m) => ampereOf(m) > NO_AMPERE) : ring;
    const posts = map ? strangePosts(net, ring, bars, map) : [];
    return { kind: isShort ? 'short' : 'parallel', posts, modules: concerned.map((m) => m.position), ampere };
  });
}

/** Modules grouped by the ring they lie on: blocks of the network that no single node parts, and modules across one node. */
function listRings({ modules, nodeCount }: Net): NetModule[][] {
  const rings = modules.filter((m) => m.plus === m.minus).map((m) => [m]);
  const near: { readonly to: number; readonly edge: number }[][] = Array.from({ length: nodeCount }, () => []);
  for (const [edge, { plus, minus }] of modules.entries())
    if (plus !== minus) {
      near[plus]?.push({ to: minus, edge });
      near[minus]?.push({ to: plus, edge });
    }
  const [order, low] = [new Map<number, number>(), new Map<number, number>()];
  const open: number[] = [];
  // by an explicit stack: a string of 200 modules is a chain of 200 nodes
  for (let root = 0; root < nodeCount; root++) {
    if (order.has(root)) continue;
    const path: { readonly node: number; readonly by: number; next: number }[] = [{ node: root, by: -1, next: 0 }];
    order.set(root, order.size);
    low.set(root, order.get(root) ?? 0);
    for (let here = path.at(-1); here; here = path.at(-1)) {
      const step = near[here.node]?.[here.next++];
      if (step) {
        if (step.edge === here.by) continue;
        const seen = order.get(step.to);
        if (seen === undefined) {
          open.push(step.edge);
          order.set(step.to, order.size);
          low.set(step.to, order.get(step.to) ?? 0);
          path.push({ node: step.to, by: step.edge, next: 0 });
        } else if (seen < (order.get(here.node) ?? 0)) {
          open.push(step.edge);
          low.set(here.node, Math.min(low.get(here.node) ?? 0, seen));
        }
        continue;
      }
      path.pop();
      const parent = path.at(-1);
      if (!parent) break;
      low.set(parent.node, Math.min(low.get(parent.node) ?? 0, low.get(here.node) ?? 0));
      if ((low.get(here.node) ?? 0) < (order.get(parent.node) ?? 0)) continue;
      const block = open.splice(open.lastIndexOf(here.by));
      if (block.length > 1) rings.push(block.sort((a, b) => a - b).flatMap((edge) => modules[edge] ?? []));
    }
  }
  return rings.sort((a, b) => (a[0]?.position ?? 0) - (b[0]?.position ?? 0));
}

/** Posts of the bars that a ring goes through and that do not belong there. */
function strangePosts(net: Net, ring: readonly NetModule[], bars: readonly Bar[], map: readonly Bar[]): PostName[] {
  const nameOf = ([a, b]: Bar): string => [indexOf(a), indexOf(b)].sort((x, y) => x - y).join(' ');
  const known = new Set(map.map(nameOf));
  const held = new Set(ring.flatMap((m) => [postIndex(m.position, '-'), postIndex(m.position, '+')]));
  const nodes = new Set(ring.flatMap((m) => [m.plus, m.minus]));
  let through = bars.filter(([a]) => nodes.has(net.nodeOf(a))).map(([a, b]): [number, number] => [indexOf(a), indexOf(b)]);
  // a bar that leads to a post of none of these modules, and no further, is no part of the ring
  for (let before = -1; before !== through.length;) {
    before = through.length;
    const ends = through.flat();
    const isDead = (post: number): boolean => !held.has(post) && ends.filter((e) => e === post).length < 2;
    through = through.filter(([a, b]) => !isDead(a) && !isDead(b));
  }
  const strange = through.filter(([a, b]) => !known.has([a, b].sort((x, y) => x - y).join(' ')));
  return [...new Set(strange.flat())].sort((a, b) => a - b).map(postAt);
}

/** Every island that does not hold the negative output. */
function findIslands({ modules, islandOf, nodeOf }: Net, negative: string): BarFault[] {
  const home = islandOf[nodeOf(negative)];
  const islands = new Map<number, number[]>();
  for (const { position, minus } of modules) {
    const island = islandOf[minus] ?? -1;
    if (island !== home) islands.set(island, [...(islands.get(island) ?? []), position]);
  }
  return [...islands.values()].map((of): BarFault => ({ kind: 'open', posts: [], modules: of, ampere: null }));
}
