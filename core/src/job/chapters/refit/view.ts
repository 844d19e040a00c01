/** How far the pack is back and the car awake, and what is next. Derived anew from the state; never stored. */
import { judgeAuxiliary, type AuxiliaryVerdict } from '../../../cell/twelve-volt.ts';
import { listBackwards, type Balance, type PartBalance } from '../../../ledger/ledger.ts';
import type { PackState } from '../../../pack/effect.ts';
import type { Profile } from '../../../pack/profile.ts';
import { WAKE_SIGN_NAMES, type WakeSign } from '../../../pack/wake.ts';
import { followCodes, type FollowedCode } from '../../../scan/codes.ts';
import { convertTorque } from '../../../quantity/torque.ts';
import type { RefitState } from './state.ts';

export interface RefitScene {
  readonly refit: RefitState;
  readonly pack: PackState;
  readonly intake: { readonly opened: { readonly kind: string } | null };
}

export const REFIT_STEPS = [
  'lift',
  'mount',
  'early',
  'tighten',
  'cables',
  'harness',
  'transfers',
  'auxiliary',
  'plug',
  'spark',
  'twelveVolt',
  'wake',
  'scan',
  'clear',
  'drive',
  'road',
  'roadScan',
  'apart',
  'trim',
  'lastWake',
] as const;
/** In their usual order; a job has those that its kind asks for. */
export type RefitStepId = (typeof REFIT_STEPS)[number];

/** Where on the screen a step is done. */
export type RefitRoom = 'back' | 'wake' | 'scan' | 'road';

export interface RefitStep {
  readonly id: RefitStepId;
  readonly title: string;
  readonly room: RefitRoom;
  readonly isDone: boolean;
  /** What is left of it, as it follows on "Next:"; empty where it is done. */
  readonly todo: string;
}

export interface TightenGroup {
  readonly part: PartBalance['part'];
  readonly isTight: boolean;
  /** It was tightened before its last piece was in: loosen it and start again. */
  readonly isTooSoon: boolean;
}

export interface WakeJudged {
  readonly number: number;
  readonly isGood: boolean;
  /** Signs that failed. */
  readonly failed: readonly WakeSign[];
}

export interface Refit {
  readonly steps: readonly RefitStep[];
  /** As it follows on "Next:"; null where all is done. */
  readonly next: RefitStep | null;
  /** What must be on before the key comes back, and before the car moves: what is still owed of it. */
  readonly missingForWake: readonly PartBalance[];
  readonly missingForDrive: readonly PartBalance[];
  /** What goes back while the car sleeps again. */
  readonly trim: readonly PartBalance[];
  readonly groups: readonly TightenGroup[];
  readonly auxiliary: AuxiliaryVerdict | null;
  /** The last one; null where nobody tried. */
  readonly wake: WakeJudged | null;
  /** It woke well, and neither plug nor 12 V was moved since. */
  readonly isAwake: boolean;
  readonly codes: readonly FollowedCode[];
}

/** Charge from which a pack may take nothing more; common practice, no source. */
const NEARLY_FULL_PERCENT = 75;

const AUXILIARY_TODO: Readonly<Record<AuxiliaryVerdict['verdict'], string>> = {
  fit: '',
  charge: 'charge the 12 V battery, then put the load on',
  replace: 'another 12 V battery',
  loadIt: '12 V battery at rest and under load',
};

const KINDS_OF_ROAD: readonly string[] = ['wholeRepair', 'exchange'];

/**
 * @param transfersLeft names of what an exchange still has to move across
 */
export function findRefit(
  { refit, pack, intake }: RefitScene,
  profile: Profile,
  balance: Balance,
  transfersLeft: readonly string[],
): Refit {
  const owed = listBackwards(balance);
  const inPack = new Set(profile.layers.map((l) => l.id));
  const { beforeWake, beforeDrive, signs } = profile.wake;
  const missingForWake = owed.filter((b) => inPack.has(b.part.place) || beforeWake.includes(b.part.id) || isMount(b));
  const missingForDrive = owed.filter((b) => beforeDrive.includes(b.part.id));
  const trim = owed.filter((b) => !missingForWake.includes(b) && !missingForDrive.includes(b));
  const groups = listGroups(refit, profile, balance);
  const tested = refit.tested.at(-1);
  const auxiliary = tested ? judgeAuxiliary({ ...tested, kind: profile.wake.auxiliary.kind }) : null;
  const wake = judgeWake(refit);
  const isFresh = wake !== null && wake.number > refit.touched;
  const isAwake = isFresh && wake.isGood;
  const scans = refit.scanned;
  const codes = followCodes(
    scans,
    refit.cleared.map((c) => c.number),
  );
  const lastWoken = refit.tried.findLast((t) => judgeTried(t).length === 0)?.number ?? 0;
  const wokeOnce = lastWoken > refit.lifted;
  const scan = scans.findLast((s) => s.moment === 'afterRepair' && s.number > refit.lifted);
  const road = refit.driven.findLast((d) => d.number > refit.lifted);
  const asksRoad = KINDS_OF_ROAD.includes(intake.opened?.kind ?? 'wholeRepair');
  const checked = (check: RefitState['checked'][number]['check']): boolean =>
    refit.checked.findLast((c) => c.check === check && c.number > refit.lifted)?.isGood ?? false;

  const steps: RefitStep[] = [];
  const add = (id: RefitStepId, room: RefitRoom, title: string, isDone: boolean, todo: string): void =>
    void steps.push({ id, room, title, isDone, todo: isDone ? '' : todo });
  const pieces = (b: PartBalance | undefined): string => (b ? `${b.owed} × ${b.part.name} back, ${b.part.where}` : '');

  add('lift', 'back', 'The pack is in the car', !pack.isOnBench, 'lift the pack in');
  const mounts = missingForWake.filter(isMount);
  add('mount', 'back', 'Every mounting bolt started by hand', mounts.length === 0, `${mounts.map((b) => `${b.owed} × ${b.part.name}`).join(', ')} by hand, none tightened yet`); // prettier-ignore
  const early = missingForWake.filter((b) => !isMount(b));
  add('early', 'back', 'All that must be on before the wake', early.length === 0, pieces(early[0]));
  const loose = groups.find((g) => !g.isTight && missingForWake.every((b) => b.part.id !== g.part.id));
  add('tighten', 'back', 'Tightened to torque', groups.every((g) => g.isTight), loose ? sayTighten(loose) : 'tighten what is started'); // prettier-ignore
  if (profile.parts.some((p) => p.effects.some((e) => e.kind === 'bares' && e.what === 'carSide')))
    add('cables', 'back', 'HV cables at their posts', checked('cablesHeld') && pack.connectors === 'closed', checked('cablesHeld') ? 'state the HV cables on and covered' : 'pull on every HV cable: each fits one post by its length'); // prettier-ignore
  add('harness', 'back', 'Harness and interlock seen', checked('harnessSeen'), 'press every low-voltage plug home and see the interlock');
  if (intake.opened?.kind === 'exchange')
    add('transfers', 'back', 'Moved across', transfersLeft.length === 0, `${transfersLeft[0] ?? ''}: moved across, came with it, or stays`); // prettier-ignore
  const isAuxiliaryFit = auxiliary?.verdict === 'fit';
  add('auxiliary', 'wake', '12 V battery', isAuxiliaryFit, auxiliary ? AUXILIARY_TODO[auxiliary.verdict] : AUXILIARY_TODO.loadIt);
  const isLatched = pack.isPlugIn && pack.isPlugLatched === true;
  add('plug', 'wake', `${profile.plug.name} in and latched`, wokeOnce || isLatched, pack.isPlugIn ? `${profile.plug.name}: ${profile.wake.plugSteps.at(-1)}` : `${profile.plug.name} in: ${profile.wake.plugSteps.join(', ')}`); // prettier-ignore
  const spark = refit.sparks.findLast((s) => s.number > refit.lifted);
  const isOn = !pack.isTwelveVoltOff;
  add('spark', 'wake', 'First touch of the 12 V', wokeOnce || isOn || (spark !== undefined && spark.spark !== 'strong'), spark?.spark === 'strong' ? 'a strong spark: find what draws before the 12 V goes on' : 'touch the 12 V negative lightly and judge the spark'); // prettier-ignore
  add('twelveVolt', 'wake', '12 V on', wokeOnce || isOn, '12 V negative on and tight');
  const wakeTodo = pack.isKeyAway ? 'key back, brake, power' : sayWake(wake, isFresh, signs);
  add('wake', 'wake', 'The car woke', wokeOnce, wakeTodo);
  if (asksRoad) {
    add('scan', 'scan', 'Scan after the repair', scan !== undefined, 'scan: codes, blocks, temperatures');
    const stored = codes.filter((c) => c.statuses.includes('stored'));
    add('clear', 'scan', 'Codes cleared', scan === undefined || stored.length === 0, `${stored.map((c) => c.code).join(', ')}: clear once the repair answers it, then scan again`); // prettier-ignore
    add('drive', 'back', 'All that must be on before the car moves', missingForDrive.length === 0, pieces(missingForDrive[0]));
    add('road', 'road', 'Road test', road?.isGood === true, road ? 'the road test was not good: look on, then drive again' : 'road test, before the last trim'); // prettier-ignore
    const after = scans.findLast((s) => s.moment === 'afterRoadTest');
    add('roadScan', 'scan', 'Scan after the road test', after !== undefined && after.number > (road?.number ?? 0), 'scan again: a code that returned shows now'); // prettier-ignore
  } else add('drive', 'back', 'All that must be on before the car moves', missingForDrive.length === 0, pieces(missingForDrive[0]));
  const isAsleep = pack.isKeyAway && pack.isTwelveVoltOff && !pack.isPlugIn;
  add('apart', 'wake', 'Isolated again for the trim', trim.length === 0 || isAsleep, `${[...(pack.isKeyAway ? [] : ['key away']), ...(isOn ? ['12 V off'] : []), ...(pack.isPlugIn ? [`${profile.plug.name} out`] : [])].join(', ')}: the trim goes back`); // prettier-ignore
  add('trim', 'back', 'Trim back', trim.length === 0, pieces(trim[0]));
  add('lastWake', 'wake', 'Woken after the last plug-in', isAwake && isLatched && isOn, sayLastWake(pack, profile, wake, isFresh));
  const next = steps.find((s) => !s.isDone) ?? null;
  return { ...{ steps, next, missingForWake, missingForDrive, trim, groups, auxiliary, wake, isAwake, codes } };
}

/** The bolts that the pack hangs by. */
function isMount({ part }: PartBalance): boolean {
  return part.effects.some((e) => e.kind === 'partsMounting');
}

/** Groups of the vehicle with a torque that go back before the car moves and were off. */
function listGroups(refit: RefitState, profile: Profile, balance: Balance): TightenGroup[] {
  const { beforeWake, beforeDrive } = profile.wake;
  const inCar = new Set(profile.zones.map((z) => z.id));
  return balance.parts
    .filter((b) => b.part.torque !== null && b.lastOut > 0 && b.back > 0 && inCar.has(b.part.place))
    .filter((b) => isMount(b) || beforeWake.includes(b.part.id) || beforeDrive.includes(b.part.id))
    .map((b) => {
      const last = refit.tightened.findLast((t) => t.partId === b.part.id && t.number > b.lastOut);
      const isTooSoon = last !== undefined && last.number < b.lastIn;
      return { part: b.part, isTight: last !== undefined && !isTooSoon, isTooSoon };
    });
}

function sayTighten({ part, isTooSoon }: TightenGroup): string {
  const { newtonMetre } = part.torque ?? { newtonMetre: 0 };
  const inch = convertTorque(newtonMetre, 'Nm').poundForceInch.toFixed(0);
  const again = isTooSoon ? ', again: they were tight before all were in' : '';
  return `${part.name}, ${part.where}, to ${newtonMetre} N·m (${inch} lbf·in)${again}`;
}

/** Signs that failed; what nobody looked at failed nothing. */
function judgeTried(tried: RefitState['tried'][number]): WakeSign[] {
  const isFull = (tried.chargePercent ?? 0) >= NEARLY_FULL_PERCENT;
  return [
    ...(tried.readyLight ? [] : (['readyLight'] as const)),
    ...(tried.lampsOut === false ? (['lampsOut'] as const) : []),
    ...(tried.engine === 'no' ? (['engineStarts'] as const) : []),
    // a pack that stands nearly full takes nothing, and nothing is wrong with it
    ...(tried.charging === 'takesNothing' && !isFull ? (['charging'] as const) : []),
  ];
}

function judgeWake({ tried }: RefitState): WakeJudged | null {
  const last = tried.at(-1);
  if (!last) return null;
  const failed = judgeTried(last);
  return { number: last.number, isGood: failed.length === 0, failed };
}

function sayWake(wake: WakeJudged | null, isFresh: boolean, signs: Profile['wake']['signs']): string {
  const failed = isFresh ? wake?.failed[0] : undefined;
  if (failed === undefined) return 'wake it: ready light, lamps, engine, charge';
  const plan = signs.find((s) => s.sign === failed);
  return `${WAKE_SIGN_NAMES[failed]} failed. ${plan ? `Look first: ${lower(plan.first)}` : 'Look why, then wake it again'}`.replace(
    /\.$/,
    '',
  );
}

function lower(text: string): string {
  return text.slice(0, 1).toLowerCase() + text.slice(1);
}

function sayLastWake(pack: PackState, profile: Profile, wake: WakeJudged | null, isFresh: boolean): string {
  const { name } = profile.plug;
  if (!pack.isPlugIn) return `${name} in: ${profile.wake.plugSteps.join(', ')}`;
  if (pack.isPlugLatched !== true) return `${name}: ${profile.wake.plugSteps.at(-1)}`;
  if (pack.isTwelveVoltOff) return '12 V negative on and tight';
  if (pack.isKeyAway) return 'key back, brake, power: the last wake comes after the last plug-in';
  return sayWake(wake, isFresh, profile.wake.signs);
}
