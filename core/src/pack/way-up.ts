/** How a pack goes together again: the steps of its maker in order, what each shuts off, and which side is up meanwhile. */
import * as z from 'zod';
import type { Refusal } from '../result.ts';
import { refuse } from '../result.ts';
import type { Layer, Part } from './parts.ts';

const name = z.string().trim().min(1).max(120);
const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  .max(60);

export const SIDES_UP = ['top', 'bottom', 'end'] as const;
/** Which side of the pack looks up while hands are on it; `end`: it stands on its end plate, or a bay is tilted. */
export type SideUp = (typeof SIDES_UP)[number];
export const SIDE_UP_NAMES: Record<SideUp, string> = { top: 'top up', bottom: 'bottom up', end: 'on its end, or tilted' };

/** What is done in a step, beside parts that go on and fasteners that get their torque. */
export const WAY_UP_TASKS = ['stack', 'layer', 'fit', 'bars', 'sensors', 'survey', 'halves', 'leak', 'paste'] as const;
export type WayUpTask = (typeof WAY_UP_TASKS)[number];

/** What is looked at on the way (common practice, no source). */
export const LOOKS = [
  'nubsSeated',
  'endsFlush',
  'gapsOpen',
  'flapStraight',
  'ventsHome',
  'tabsRight',
  'eyeletsUnder',
  'senseLocked',
  'interlockIn',
  'edgeProtected',
  'fanPiecesIn',
  'pipesClicked',
  'residueOff',
  'sidesPhotographed',
] as const;
export type Look = (typeof LOOKS)[number];
export const LOOK_NAMES: Record<Look, string> = {
  nubsSeated: 'interlocking nubs seated',
  endsFlush: 'ends flush',
  gapsOpen: 'air gaps open',
  flapStraight: 'case flap straight',
  ventsHome: 'vent tubes pushed home',
  tabsRight: 'extra tabs of the frame on their side, no slot empty',
  eyeletsUnder: 'bar below, eyelet above it, nut last',
  senseLocked: 'sense connector pressed home, its lock in',
  interlockIn: 'interlock plug in, under the plug socket',
  edgeProtected: 'edge protector on',
  fanPiecesIn: 'fan spacers and ground strap in',
  pipesClicked: 'quick joints clicked and dry',
  residueOff: 'old paste off plate and module',
  sidesPhotographed: 'both sides photographed',
};

export const wayUpStepSchema = z.strictObject({
  id: slug,
  name,
  does: z.enum(WAY_UP_TASKS),
  /** The layer that goes on with it; its fact is stated the other way round. */
  layer: slug.nullable(),
  /** What goes on in it; fasteners with a torque get theirs. */
  parts: z.array(slug).max(60),
  looks: z.array(z.enum(LOOKS)).max(LOOKS.length),
  up: z.enum(SIDES_UP).nullable(),
  /** Of a pack in bays, the one that it is about; null: the whole pack. */
  bay: z.int().min(1).max(20).nullable(),
  /** Steps that nobody reaches any more once this is done. */
  shutsOff: z.array(slug).max(40),
  /** Only in the vehicle, such as a cover that goes on after the cables. */
  isInCar: z.boolean(),
  note: z.string().trim().max(400),
});
export type WayUpStep = z.infer<typeof wayUpStepSchema>;

/** How paste is laid under a module. */
export const PASTE_PATTERNS = ['lines', 'cross', 'dots', 'sheet'] as const;

/** A loop of coolant and the paste under modules that lie on a cold plate. */
export const coolantSchema = z.strictObject({
  /** Air or nitrogen in the empty loop while it is watched for a leak. */
  testKilopascal: z.number().positive().max(1000),
  testMinute: z.number().positive().max(240),
  /** Most that may be lost over that time. */
  mostLostKilopascal: z.number().positive().max(1000),
  paste: z.strictObject({
    areaSquareCentimetre: z.number().positive().max(1e5),
    thicknessMillimetre: z.number().positive().max(10),
    gramPerCubicCentimetre: z.number().positive().max(20),
    pattern: z.enum(PASTE_PATTERNS),
  }),
});
export type Coolant = z.infer<typeof coolantSchema>;

/** The usual way where a profile says none: modules, then the layers from the innermost out. */
export function usualWayUp(
  layers: readonly Pick<Layer, 'id' | 'name' | 'note'>[],
  parts: readonly Pick<Part, 'id' | 'place'>[],
): WayUpStep[] {
  const usual = { looks: [], up: null, bay: null, shutsOff: [], isInCar: false };
  const stack: WayUpStep = { ...usual, id: 'stack', name: 'modules into the stack', does: 'stack', layer: null, parts: [], note: '' };
  const onTop = layers.toReversed().map(({ id, name: called, note }, i): WayUpStep => ({
    ...{ ...usual, id: id === 'stack' ? 'stack-layer' : id, name: called, does: 'layer', layer: id, note },
    parts: parts.filter((p) => p.place === id).map((p) => p.id),
    looks: i === 0 ? ['nubsSeated', 'endsFlush', 'gapsOpen', 'flapStraight'] : [],
  }));
  return [stack, ...onTop];
}

/** Checks that the way up fits the rest of its profile; null where it does. */
export function checkWayUp(
  steps: readonly WayUpStep[],
  { layers, parts, bays, coolant }: { layers: readonly Layer[]; parts: readonly Part[]; bays: readonly unknown[]; coolant: Coolant | null },
): Refusal | null {
  const ids = steps.map((s) => s.id);
  const users = new Map<string, string>();
  for (const [i, step] of steps.entries()) {
    const wrong = (words: string, field: string, ...rest: number[]): Refusal =>
      refuse('mismatch', `${step.name}: ${words}`, ['rebuild', i, field, ...rest]);
    if (ids.indexOf(step.id) !== i) return wrong(`"${step.id}" stands twice.`, 'id');
    if (step.layer !== null && !layers.some((l) => l.id === step.layer)) return wrong(`there is no layer "${step.layer}".`, 'layer');
    if (step.layer !== null && steps.some((s, k) => k < i && s.layer === step.layer))
      return wrong(`"${step.layer}" goes on twice.`, 'layer');
    if (step.bay !== null && step.bay > bays.length) return wrong(`there is no bay ${step.bay}.`, 'bay');
    if ((step.does === 'leak' || step.does === 'paste') && coolant === null) return wrong('this pack has no coolant.', 'does');
    for (const [k, id] of step.parts.entries()) {
      if (!parts.some((p) => p.id === id)) return wrong(`there is no part "${id}".`, 'parts', k);
      const other = users.get(id);
      if (other !== undefined) return wrong(`"${id}" goes on in "${other}" already.`, 'parts', k);
      users.set(id, step.name);
    }
    const stray = step.shutsOff.findIndex((id) => !ids.slice(0, i).includes(id));
    if (stray >= 0) return wrong(`it shuts off "${step.shutsOff[stray]}", which is no step before it.`, 'shutsOff', stray);
  }
  if (!steps.some((s) => s.does === 'stack')) return refuse('mismatch', 'The way up lays no modules.', ['rebuild']);
  const left = layers.find((l) => l.fact !== null && !steps.some((s) => s.layer === l.id));
  return left ? refuse('mismatch', `${left.name} comes off and never goes on again.`, ['rebuild']) : null;
}
