/** A demonstration job the whole way up, back into its car and out of the door: each act as the job itself says that it is next. */
import {
  findHalves,
  findLedger,
  findRebuild,
  isAtHand,
  isFit,
  refitOf,
  restingVolts,
  type Act,
  type ActBody,
  type Fact,
  type JobState,
  type PartBalance,
  type Profile,
  type RebuildStep,
  type Stage,
} from '@estuarine/core';
import { putBack, scanOf, tightenAll } from './returning.ts';
import { round } from './modules.ts';

/** A job being made: what it is now, and how it goes on. */
export interface Walked {
  readonly profile: Profile;
  readonly look: () => Promise<JobState>;
  readonly keepAll: (acts: readonly Act[], minutes: number) => Promise<void>;
  /** Every piece of a part to its torque, in a pass. */
  readonly tighten: (part: Profile['parts'][number], pass: 1 | 2) => Promise<void>;
}

/** More steps than any way up has: a loop that does not end is a fault of the demonstration. */
const MOST_STEPS = 80;

/** The stack laid, barred, tightened, covered and shut, step by step. */
export async function buildUp(walked: Walked): Promise<void> {
  const { profile, look, keepAll, tighten } = walked;
  for (let i = 0; i < MOST_STEPS; i++) {
    const state = await look();
    const { next, places } = findRebuild({ ...state, volts: restingVolts(state) }, profile);
    if (!next) return;
    const lay = places.filter((p) => !p.isDone).map((p) => stated('rebuild', { kind: 'module', place: p.place, moduleId: p.planned, isTurned: false })); // prettier-ignore
    await keepAll([...(next.plan.does === 'stack' ? lay : []), ...stepActs(next, state, profile)], 0.4);
    for (const group of next.groups)
      for (const pass of group.wantedPasses === 2 ? ([1, 2] as const) : ([1] as const)) await tighten(group.part, pass);
  }
  throw new Error('the way up does not end');
}

function stated(stage: Stage, fact: Fact): Act {
  return { type: 'fact.stated', body: { stage, fact } };
}

function stepActs(step: RebuildStep, state: JobState, profile: Profile): Act[] {
  const { plan, fact, isOn, isToTurn, checks } = step;
  const owed = findLedger(state, profile).parts.filter((b) => b.owed > 0 && plan.parts.includes(b.part.id) && b.part.torque === null);
  return [
    ...(isToTurn && plan.up ? [{ type: 'pack.turned', body: { up: plan.up } } as const] : []),
    ...(fact && !isOn ? [stated('rebuild', fact)] : []),
    ...owed.flatMap((b) => backFrom(b, 'rebuild')),
    ...taskActs(step, state, profile),
    ...checks
      .filter((c) => c.isGood !== true)
      .map((c): Act => ({ type: 'rebuild.checked', body: { check: c.check, isGood: true, note: '' } })),
  ];
}

function taskActs({ plan, isOn }: RebuildStep, state: JobState, profile: Profile): Act[] {
  if (isOn) return [];
  switch (plan.does) {
    case 'bars':
      return [{ type: 'bars.readied', body: { frame: null, how: 'new', isInFrame: true, isDry: null, plating: null, haveNewNuts: true } }];
    case 'sensors':
      return [
        { type: 'sensors.sited', body: { school: 'asMade', sites: profile.sensors.map(({ id, place }) => ({ sensorId: id, place })) } },
      ];
    case 'halves':
      return findHalves({ ...state, volts: restingVolts(state) }, profile).map(({ from, to, sumVolt }) => ({
        type: 'half.measured',
        body: { from, to, volt: round(sumVolt, 1) },
      }));
    default:
      return [];
  }
}

function backFrom({ part, owed, lots }: PartBalance, stage: Stage): Act[] {
  let left = owed;
  const acts: Act[] = [];
  const move = (from: ActBody<'part.moved'>['from'], count: number): void => {
    left -= count;
    acts.push({ type: 'part.moved', body: { stage, partId: part.id, count, from, to: { kind: 'inPlace' }, condition: 'good' } });
  };
  for (const { spot, condition, count } of lots)
    if (isAtHand(spot) && isFit(condition) && left > 0 && count > 0) move(spot, Math.min(left, count));
  if (left > 0) move({ kind: 'new' }, left);
  return acts;
}

/** The air path cleaned, its fan tried, and the next look set. */
export async function cleanAir({ profile, keepAll }: Walked, shares: readonly number[]): Promise<void> {
  const dirty = shares.flatMap((share, part) => (share >= 0.2 ? [part] : []));
  const fan = profile.airPath.findIndex((p) => p.kind === 'fan');
  await keepAll(
    [
      ...shares.map((blockedShare, part): Act => ({ type: 'air.found', body: { part, when: 'asFound', blockedShare, note: '' } })),
      ...dirty.map((part): Act => ({ type: 'air.cleaned', body: { part, school: 'dry', note: '' } })),
      ...dirty.map((part): Act => ({ type: 'air.found', body: { part, when: 'after', blockedShare: 0.02, note: '' } })),
      { type: 'fan.tested', body: { part: fan, spins: true, noise: 'none', hasPlay: false, startVolt: 3.4 } },
      ...(['tabRight', 'sealWhole', 'strapHeld', 'sensorSeated'] as const).map((check): Act => ({
        type: 'air.checked',
        body: { check, isGood: true },
      })),
      { type: 'cooling.judged', body: { isAnswered: true, note: 'Hair and lint on the wheel; the middle of the pack ran hot.' } },
      { type: 'look.set', body: { months: 6, stripMonths: null, uses: ['pets'] } },
    ],
    2,
  );
}

/** In the car, cables on, woken, driven, scanned, trimmed and woken again. */
export async function putAllBack(walked: Walked, faultCode: string): Promise<void> {
  const { profile, look, keepAll } = walked;
  const state = (fact: Fact): Act => stated('refit', fact);
  const woken: Act = {
    type: 'wake.tried',
    body: { readyLight: true, lampsOut: true, engine: 'byItself', charging: 'takes', chargePercent: 58, note: '' },
  };
  const latched = [state({ kind: 'plug', isIn: true, isLatched: true }), state({ kind: 'twelveVolt', isOff: false }), state({ kind: 'key', isAway: false })]; // prettier-ignore
  const stored = [faultCode, 'P0A80'].map((code) => ({ code, status: 'stored' as const }));
  await keepAll([state({ kind: 'pack', isOnBench: false })], 6);
  await keepAll(putBack(await look(), profile, 'wake'), 1);
  await keepAll(tightenAll(await look(), profile), 1);
  const seen = (['cablesHeld', 'harnessSeen'] as const).map((check): Act => ({
    type: 'refit.checked',
    body: { check, isGood: true, note: '' },
  }));
  await keepAll(
    [
      ...[state({ kind: 'connectors', are: 'closed' }), ...seen],
      { type: 'auxiliary.tested', body: { restVolt: 12.84, loadVolt: 10.6, celsius: 16, isFromTester: true } },
      { type: 'spark.seen', body: { spark: 'small' } },
      ...[...latched, woken, scanOf(profile, 'afterRepair', null, stored)],
      { type: 'codes.cleared', body: { reader: 'Scan reader (simulated)' } },
      ...[scanOf(profile, 'afterRepair', null, []), woken],
    ],
    2,
  );
  await keepAll(putBack(await look(), profile, 'drive'), 1);
  await keepAll(tightenAll(await look(), profile), 1);
  const drive = {
    minute: 30,
    spreadLoadVolt: 0.05,
    spreadChargeVolt: 0.04,
    highestCelsius: 33,
    isGood: true,
    note: 'Causeway and back twice.',
  };
  await keepAll([{ type: 'road.driven', body: drive }, scanOf(profile, 'afterRoadTest', null, [])], 12);
  const apart: Fact[] = [{ kind: 'key', isAway: true, custody: 'lock box 2' }, { kind: 'twelveVolt', isOff: true }, { kind: 'plug', isIn: false, custody: 'on the bench' }]; // prettier-ignore
  await keepAll(apart.map(state), 2);
  const { trim } = refitOf(await look(), profile);
  await keepAll(trim.flatMap((b) => backFrom(b, 'refit')), 1); // prettier-ignore
  await keepAll([...latched, woken, { type: 'refit.checked', body: { check: 'restTold', isGood: true, note: 'Lock washer of an earlier hand, kept in a bag.' } }], 2); // prettier-ignore
}

/** Causes answered, photographs chosen, what is promised, what goes back, and the end. */
export async function finish({ look, keepAll }: Walked, shipBy: string): Promise<void> {
  const { finding, strip } = await look();
  await keepAll(
    [
      ...finding.findings
        .filter((f) => f.settled === null)
        .map((f): Act => ({ type: 'finding.settled', body: { findingId: f.findingId, note: 'Renewed with the bars.' } })),
      ...strip.added.map((a): Act => ({ type: 'part.leftOff', body: { partId: a.part.id, count: 1, reason: 'Of an earlier hand, fits nowhere.', followUp: 'Handed to the owner in a bag.' } })), // prettier-ignore
      { type: 'cause.answered', body: { cause: 'joint', isAnswered: true, how: 'Two black bars; all bars and nuts renewed.' } },
      { type: 'cause.answered', body: { cause: 'age', isAnswered: true, how: 'One module replaced, the rest matched again.' } },
      { type: 'warranty.given', body: { months: 12, kilometre: 20_000, words: 'On modules and work.' } },
      { type: 'accessory.offered', body: { what: 'Cabin inlet filter', answer: 'accepted', note: '' } },
      { type: 'report.prepared', body: { photoIds: finding.photos.map((p) => p.photoId), toCustomer: 'Thank you for waiting for the tide. The bus pulls as it should; please keep the grille by the rear seat free.' } }, // prettier-ignore
      { type: 'core.agreed', body: { supplier: 'Marsh Cell Traders', what: 'modules', count: 1, deposit: 45, shipBy } },
      ...(['cartonKept', 'whole', 'sameType', 'postsInsulated'] as const).map((check): Act => ({
        type: 'core.checked',
        body: { check, isGood: true },
      })),
    ],
    1,
  );
}
