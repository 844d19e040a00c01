/** How a car is woken after the work: what must be on before, how its plug latches, what a good wake shows and what it means when not. */
import * as z from 'zod';
import { AUXILIARY_KINDS } from '../cell/twelve-volt.ts';
import { refuse, type Refusal } from '../result.ts';
import type { Layer, Part } from './parts.ts';

const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  .max(60);

export const WAKE_SIGNS = ['readyLight', 'lampsOut', 'engineStarts', 'charging'] as const;
/** What is looked for when the car is switched on. */
export type WakeSign = (typeof WAKE_SIGNS)[number];
export const WAKE_SIGN_NAMES: Record<WakeSign, string> = {
  readyLight: 'ready light',
  lampsOut: 'warning lamps out',
  engineStarts: 'engine starts',
  charging: 'pack takes charge',
};

export const wakeSchema = z.strictObject({
  /** Parts that must be on before the key comes back; everything of the pack itself is one of them anyway. */
  beforeWake: z.array(slug).max(200),
  /** Parts that must be on before the car moves, beside those. */
  beforeDrive: z.array(slug).max(200),
  /** Movements that put the plug in, in order; the last of them latches it. */
  plugSteps: z.array(z.string().trim().min(1).max(120)).min(1).max(8),
  /** It may start its engine only with the accelerator held down. */
  isEngineByAccelerator: z.boolean(),
  /** What it means when a sign fails, and what to look at first. */
  signs: z
    .array(z.strictObject({ sign: z.enum(WAKE_SIGNS), means: z.string().trim().min(1).max(300), first: z.string().trim().min(1).max(300) }))
    .max(WAKE_SIGNS.length),
  auxiliary: z.strictObject({ kind: z.enum(AUXILIARY_KINDS), where: z.string().trim().min(1).max(120) }),
  /** Whether a flat pack can be lent energy from the 12 V. */
  lendsFromTwelveVolt: z.boolean(),
});
export type Wake = z.infer<typeof wakeSchema>;

/** Movements of the usual plugs, where a profile says none. Common practice, no source. */
export const PLUG_STEPS: Readonly<Record<string, readonly string[]>> = {
  lever: ['plug pushed home', 'lever swung over', 'lever slid home until it locks'],
  swing: ['grip pushed in', 'grip swung down', 'grip pressed home until it clicks'],
  round: ['plug pushed in', 'turned until the marks meet'],
  switch: ['switch turned to on'],
  bolted: ['plug laid over its studs', 'its bolts to torque', 'its cover pressed home'],
};

/** What each sign means when it fails. Common practice, no source. */
export const USUAL_SIGNS: Wake['signs'] = [
  { sign: 'readyLight', means: 'The interlock is open, the plug is not latched, or the 12 V is low.', first: 'Plug latched, interlock plug in, 12 V under load.' }, // prettier-ignore
  {
    sign: 'lampsOut',
    means: 'A unit still sees a fault, or its code was never cleared.',
    first: 'Scan it: codes stored, pending and permanent.',
  },
  { sign: 'engineStarts', means: 'The pack gives too little to crank, or the engine is not asked for.', first: 'Charge shown, then the accelerator held down.' }, // prettier-ignore
  { sign: 'charging', means: 'The pack is full, or its current is limited.', first: 'Charge shown: nearly full takes nothing.' },
];

/** Where a profile says nothing of it, the careful reading: what bares or joins before the wake, all the rest before the car moves. */
export function usualWake(plugKind: string, zones: readonly { readonly id: string }[], parts: readonly Part[]): Wake {
  const inCar = parts.filter((p) => zones.some((zone) => zone.id === p.place));
  const isEarly = (p: Part): boolean => p.effects.length > 0 || p.kind === 'connector' || p.kind === 'cable';
  return {
    beforeWake: inCar.filter(isEarly).map((p) => p.id),
    beforeDrive: inCar.filter((p) => !isEarly(p)).map((p) => p.id),
    plugSteps: [...(PLUG_STEPS[plugKind] ?? ['plug pushed home'])],
    isEngineByAccelerator: false,
    signs: USUAL_SIGNS,
    auxiliary: { kind: 'flooded', where: 'not noted' },
    lendsFromTwelveVolt: false,
  };
}

/** Checks that a wake names what its pack has; null where it does. */
export function checkWake(
  wake: Wake,
  { parts, layers }: { readonly parts: readonly Part[]; readonly layers: readonly Layer[] },
): Refusal | null {
  for (const list of ['beforeWake', 'beforeDrive'] as const)
    for (const [i, id] of wake[list].entries()) {
      const part = parts.find((p) => p.id === id);
      if (!part) return refuse('mismatch', `There is no part "${id}".`, ['wake', list, i]);
      if (layers.some((l) => l.id === part.place)) return refuse('mismatch', `${part.name} belongs to the pack, which is whole before anyway.`, ['wake', list, i]); // prettier-ignore
      if (list === 'beforeDrive' && wake.beforeWake.includes(id)) return refuse('mismatch', `${part.name} is on before the wake already.`, ['wake', list, i]); // prettier-ignore
    }
  const twice = wake.signs.findIndex((s, i) => wake.signs.findIndex((o) => o.sign === s.sign) < i);
  return twice < 0 ? null : refuse('mismatch', `"${WAKE_SIGN_NAMES[wake.signs[twice]?.sign ?? 'readyLight']}" stands twice.`, ['wake', 'signs', twice]); // prettier-ignore
}
