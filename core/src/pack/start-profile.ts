/**
 * A profile from the few things that can be read off a pack and its label: everything else as is usual, each to be looked at before it is
 * trusted. What it says of voltages errs upwards, as the exposure line wants it.
 */
import type { Chemistry } from '../cell/battery-model.ts';
import { refuse, type Result } from '../result.ts';
import type { Fact } from './fact.ts';
import type { Layer, Part, Zone } from './parts.ts';
import { checkProfile, plusSide, PROFILE_SCHEMA_VERSION, profileSchema, type Profile } from './profile.ts';
import { STAGES, type Stage } from './stage.ts';
import { usualWake } from './wake.ts';
import { usualWayUp } from './way-up.ts';

export interface PackSketch {
  readonly name: string;
  readonly archetype: Profile['archetype'];
  readonly chemistry: Chemistry;
  readonly moduleCount: number;
  /** In series, in one module. */
  readonly cells: number;
  readonly capacityAh: number;
  /** Modules watched by each channel, in string order. */
  readonly blocks: readonly number[];
  readonly plugName: string;
  readonly plugKind: Profile['plug']['kind'];
  readonly plugWhere: string;
  /** Null: it only signals. */
  readonly opensLink: number | null;
  /** One long frame a side, whose links open together; else bars one by one. */
  readonly hasFrames: boolean;
  readonly packKilogram: number;
  readonly moduleKilogram: number;
  readonly capacitorMinute: number;
}

/** A cell of each chemistry: nominal, highest at rest, cut-off, volt; typical resistance, milliohm. Common practice, no source. */
const CELLS: Record<Chemistry, { nominal: number; most: number; cutoff: number; milliohm: number }> = {
  nimh: { nominal: 1.2, most: 1.6, cutoff: 1, milliohm: 4.5 },
  liion: { nominal: 3.6, most: 4.2, cutoff: 2.75, milliohm: 1.5 },
};
const REST_HOUR = 12;
const PROVENANCE =
  'Begun in this shop from a label and a look. Every torque, wait and voltage is to be taken from the maker’s service information before it is trusted.';

/** Refusals: `impossible` for a figure that does not fit, with its field; `mismatch` for parts that do not fit each other. */
export function startProfile(sketch: PackSketch): Result<Profile> {
  const id = slugOf(sketch.name);
  if (id === '') return refuse('impossible', 'A name needs a letter or a digit.', ['name']);
  const { chemistry, cells, moduleCount } = sketch;
  if (!Number.isInteger(moduleCount) || moduleCount < 2 || moduleCount > 200)
    return refuse('impossible', 'A string has 2 to 200 modules.', ['moduleCount']);
  if (!Number.isInteger(cells) || cells < 1 || cells > 400)
    return refuse('impossible', 'A module has 1 to 400 cells.', ['moduleType', 'cells']);
  const cell = CELLS[chemistry];
  const layout = {
    firstEnd: 'control unit',
    lastEnd: 'far end',
    firstPlusSide: 'near',
    nearSide: 'near side',
    farSide: 'far side',
  } as const;
  const links = Array.from({ length: moduleCount - 1 }, (_, i) => i + 1).filter((k) => k !== sketch.opensLink);
  const frames = sketch.hasFrames ? framesOf(links, (k) => plusSide({ layout }, k)) : [];
  const zones: Zone[] = [{ id: 'vehicle', name: 'around the pack', area: { x: 55, y: 6, length: 35, width: 32 }, note: '' }];
  const layers = layersOf(frames, links);
  const parts = partsOf(frames, links);
  const draft = {
    ...{
      schemaVersion: PROFILE_SCHEMA_VERSION,
      id,
      version: 1,
      name: sketch.name.trim(),
      archetype: sketch.archetype,
      provenance: PROVENANCE,
    },
    moduleType: {
      ...{
        id: `${chemistry}-${cells}-${id}`.slice(0, 60),
        name: `${chemistry === 'nimh' ? 'NiMH' : 'Lithium-ion'} module, ${cells} cells`,
      },
      ...{
        chemistry,
        cells,
        form: 'prismatic',
        posts: 'not noted',
        nominalCapacityAh: sketch.capacityAh,
        massKilogram: sketch.moduleKilogram,
      },
      ...{ nominalVolt: round(cell.nominal * cells), maximumModuleVolt: round(cell.most * cells), cutoffVolt: round(cell.cutoff * cells) },
      typicalMilliohm: round(cell.milliohm * cells),
    },
    ...{ moduleCount, layout, blocks: [...sketch.blocks], bays: [], posts: { thread: 'not noted', nutFastener: 'bar-nut', note: '' } },
    plug: {
      ...{ name: sketch.plugName.trim(), kind: sketch.plugKind, where: sketch.plugWhere.trim(), parking: null, isKeyTo: null },
      ...{ opensLink: sketch.opensLink, note: '' },
    },
    ...{ frames, bars: [], sense: { by: 'block', connector: 'sense connector' } },
    // nobody knows yet which run hot
    heatWeights: Array<number>(moduleCount).fill(1),
    ...{ sensors: [], massKilogram: sketch.packKilogram, waits: { capacitorMinute: sketch.capacitorMinute, restHour: REST_HOUR } },
    ...{ zones, layers, parts, rebuild: usualWayUp(layers, parts), coolant: null, transfer: [], quotes: [], scan: null, hazards: [] },
    lift: {
      ...{ by: sketch.packKilogram > 60 ? 'hoist' : 'twoPeople', path: 'Not noted: look for the way out and for cables caught on it.' },
      ...{ horizontalCentimetre: 40, verticalCentimetre: 50, travelCentimetre: 40, asymmetryDegree: 30, coupling: 'fair' },
    },
    airPath: [
      { kind: 'intake', name: 'air intake', note: '', pins: '' },
      { kind: 'fan', name: 'pack fan', note: '', pins: '' },
      { kind: 'cells', name: 'module gaps', note: '', pins: '' },
      { kind: 'outlet', name: 'air outlet', note: '', pins: '' },
    ],
    cooling: { cleanCubicMetrePerHour: 140, stripMonths: null, fanNeedsDead: true },
    wake: usualWake(sketch.plugKind, zones, parts),
    isolation: { point: { at: 'carSide', label: 'inverter posts, as the maker says' }, extraSteps: [] },
    ...{ stages: [...STAGES], procedure: procedureOf(layers) },
  };
  const parsed = profileSchema.safeParse(draft);
  if (parsed.success) return checkProfile(parsed.data);
  const issue = parsed.error.issues[0];
  const path = (issue?.path ?? []).map((p) => (typeof p === 'symbol' ? p.toString() : p));
  return refuse('impossible', issue?.message ?? 'It does not fit.', path);
}

/** A name as an id: `Reed Warbler 30` becomes `reed-warbler-30`; empty where nothing of it can stand in one. */
export function slugOf(name: string): string {
  return name
    .normalize('NFD')
    .toLowerCase()
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40)
    .replace(/-+$/, '');
}

function framesOf(links: readonly number[], sideOf: (link: number) => 'near' | 'far'): Profile['frames'] {
  return (['near', 'far'] as const).flatMap((side) => {
    const own = links.filter((k) => sideOf(k) === side);
    return own.length === 0 ? [] : [{ id: `${side}-frame`, name: `${side} side bus-bar frame`, side, links: own, opensAsOne: true }];
  });
}

function layersOf(frames: Profile['frames'], links: readonly number[]): Layer[] {
  const bars: Layer[] =
    frames.length > 0
      ? frames.map(({ id, name }) => ({ id: `${id}-bars`, name, fact: { kind: 'frame', frame: id, isOff: true }, note: '' }))
      : links.length === 0
        ? []
        : [{ id: 'bars', name: 'bus bars', fact: { kind: 'links', links: [...links], areOpen: true }, note: '' }];
  return [
    { id: 'case-lid', name: 'case lid', fact: { kind: 'case', isOpen: true }, note: '' },
    { id: 'sense', name: 'sense harness', fact: { kind: 'harness', isUnplugged: true }, note: '' },
    { id: 'terminal-covers', name: 'terminal covers', fact: { kind: 'covers', areOff: true }, note: '' },
    ...bars,
  ];
}

function partsOf(frames: Profile['frames'], links: readonly number[]): Part[] {
  const usual = { size: '', count: null, tool: '', torque: null, isHidden: false, caution: '', effects: [] };
  // a plug may be the only joint
  const nuts = frames.length > 0 ? frames.map((f) => `${f.id}-bars`) : [links.length > 0 ? 'bars' : 'terminal-covers'];
  return [
    {
      ...usual,
      id: 'hv-cable',
      kind: 'cable',
      name: 'HV cable',
      place: 'vehicle',
      where: 'at the pack',
      effects: [{ kind: 'bares', what: 'carSide' }],
    },
    {
      ...usual,
      id: 'pack-bolt',
      kind: 'fastener',
      name: 'pack bolt',
      place: 'vehicle',
      where: 'pack to body',
      effects: [{ kind: 'partsMounting' }],
    },
    {
      ...usual,
      id: 'lid',
      kind: 'cover',
      name: 'case lid',
      place: 'case-lid',
      where: 'on the case',
      count: 1,
      effects: [{ kind: 'bares', what: 'case' }],
    },
    {
      ...usual,
      id: 'sense-plug',
      kind: 'connector',
      name: 'sense connector',
      place: 'sense',
      where: 'at the control unit',
      count: 1,
      effects: [{ kind: 'partsHarness' }],
    },
    {
      ...usual,
      id: 'post-cover',
      kind: 'cover',
      name: 'terminal cover',
      place: 'terminal-covers',
      where: 'over the posts',
      effects: [{ kind: 'bares', what: 'covers' }],
    },
    ...nuts.map((place, i): Part => ({
      ...usual,
      id: i === 0 ? 'bar-nut' : `bar-nut-${i + 1}`,
      kind: 'fastener',
      name: 'bus-bar nut',
      place,
      where: 'on the posts',
    })),
    ...frames.map((f): Part => ({
      ...usual,
      id: f.id,
      kind: 'bar',
      name: f.name,
      place: `${f.id}-bars`,
      where: 'on the posts',
      count: 1,
      effects: [{ kind: 'partsFrame', frame: f.id }],
    })),
    ...(frames.length === 0 && links.length > 0
      ? [
          {
            ...usual,
            id: 'bar',
            kind: 'bar',
            name: 'bus bar',
            place: 'bars',
            where: 'on the posts',
            count: links.length,
            effects: [{ kind: 'partsLinks', links: [...links] }],
          } satisfies Part,
        ]
      : []),
  ];
}

/** The usual way down and back up again. */
function procedureOf(layers: readonly Layer[]): Profile['procedure'] {
  const at = (stage: Stage, ...facts: Fact[]) => facts.map((fact) => ({ stage, fact }));
  const opened = layers.flatMap(({ fact }) => (fact ? [fact] : []));
  return [
    ...at('isolate', { kind: 'key', isAway: true }, { kind: 'twelveVolt', isOff: true }, { kind: 'plug', isIn: false }),
    ...at('isolate', { kind: 'connectors', are: 'open' }, { kind: 'connectors', are: 'insulated' }),
    ...at('strip', { kind: 'pack', isOnBench: true }),
    ...at('open', ...opened),
    ...at('rebuild', ...opened.toReversed().map(backOf)),
    ...at('refit', { kind: 'pack', isOnBench: false }, { kind: 'connectors', are: 'closed' }, { kind: 'plug', isIn: true }),
    ...at('refit', { kind: 'twelveVolt', isOff: false }, { kind: 'key', isAway: false }),
  ];
}

function backOf(fact: Fact): Fact {
  switch (fact.kind) {
    case 'case':
      return { ...fact, isOpen: false };
    case 'harness':
      return { ...fact, isUnplugged: false };
    case 'covers':
      return { ...fact, areOff: false };
    case 'frame':
      return { ...fact, isOff: false };
    case 'links':
      return { ...fact, areOpen: false };
    default:
      return fact;
  }
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}
