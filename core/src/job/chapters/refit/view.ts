/** How far the pack is back and the car awake, and what is next. Derived anew from the state; never stored. */
import { judgeAuxiliary, type AuxiliaryVerdict } from '../../../cell/twelve-volt.ts';
import { listBackwards, type Balance, type PartBalance } from '../../../ledger/ledger.ts';
import { isAtHand } from '../../../ledger/spot.ts';
import type { PackState } from '../../../pack/effect.ts';
import type { Profile } from '../../../pack/profile.ts';
import { WAKE_SIGN_NAMES, type WakeSign } from '../../../pack/wake.ts';
import { followCodes, type FollowedCode } from '../../../scan/codes.ts';
import { convertTorque } from '../../../quantity/torque.ts';
import { findSlip, isTorqueWithin, showTorque } from '../../../torque/slips.ts';
import type { RefitCheck } from './acts.ts';
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
  'rest',
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
  /** The zone or layer that it is about; null where it is about none. */
  readonly place: string | null;
}

export interface TightenGroup {
  readonly part: PartBalance['part'];
  readonly isTight: boolean;
  /** Every piece of it is in: only then is any of them tightened. */
  readonly isWhole: boolean;
  /** It was tightened before its last piece was in: loosen it and start again. */
  readonly isTooSoon: boolean;
  /** Why the torque that was entered does not count; null where it does or none was. */
  readonly fault: string | null;
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
  /** What is looked at by hand; null where nobody did since it was last apart. */
  readonly checks: readonly { readonly check: RefitCheck; readonly isGood: boolean | null }[];
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

/** Which of plug and 12 V goes back on first. */
export type PutBackFirst = 'plugFirst' | 'twelveVoltFirst';

/** What the steps are told from. */
interface Told {
  readonly refit: RefitState;
  readonly pack: PackState;
  readonly profile: Profile;
  readonly missingForWake: readonly PartBalance[];
  readonly missingForDrive: readonly PartBalance[];
  readonly trim: readonly PartBalance[];
  readonly groups: readonly TightenGroup[];
  readonly auxiliary: AuxiliaryVerdict | null;
  readonly wake: WakeJudged | null;
  /** Neither plug nor 12 V was moved since the last wake. */
  readonly isFresh: boolean;
  readonly isAwake: boolean;
  /** It woke well at least once since the pack was lifted in. */
  readonly hasWoken: boolean;
  readonly codes: readonly FollowedCode[];
  readonly back: PutBackFirst;
}

/**
 * @param transfersLeft names of what an exchange still has to move across
 * @param back which of plug and 12 V the shop puts back on first
 */
export function findRefit(
  { refit, pack, intake }: RefitScene,
  profile: Profile,
  balance: Balance,
  transfersLeft: readonly string[],
  back: PutBackFirst = 'plugFirst',
): Refit {
  const owed = listBackwards(balance);
  const inPack = new Set(profile.layers.map((l) => l.id));
  const { beforeWake, beforeDrive } = profile.wake;
  const missingForWake = owed.filter((b) => inPack.has(b.part.place) || beforeWake.includes(b.part.id) || isMount(b));
  const missingForDrive = owed.filter((b) => beforeDrive.includes(b.part.id));
  const trim = owed.filter((b) => !missingForWake.includes(b) && !missingForDrive.includes(b));
  const groups = listGroups(refit, profile, balance);
  const tested = refit.tested.at(-1);
  const auxiliary = tested ? judgeAuxiliary({ ...tested, kind: profile.wake.auxiliary.kind }) : null;
  const wake = judgeWake(refit);
  const isFresh = wake !== null && wake.number > refit.touched;
  const isAwake = isFresh && wake.isGood;
  const hasWoken = refit.tried.some((t) => t.number > refit.lifted && judgeTried(t).length === 0);
  const codes = followCodes(
    refit.scanned,
    refit.cleared.map((c) => c.number),
  );
  const told: Told = {
    ...{ refit, pack, profile, missingForWake, missingForDrive, trim, groups, auxiliary, wake, isFresh, isAwake, hasWoken, codes, back },
  };
  const kind = intake.opened?.kind ?? 'wholeRepair';
  const drive = backStep('drive', 'All that must be on before the car moves', missingForDrive);
  // a car whose 12 V and plug nobody moved is as awake as it came
  const isWoken = refit.touched > 0 || refit.tried.length > 0 || refit.lifted > 0;
  const steps = [
    ...stepsIn(told, kind === 'exchange' ? transfersLeft : null),
    ...(isWoken ? stepsToWake(told) : []),
    ...(KINDS_OF_ROAD.includes(kind) ? stepsOfRoad(told, drive) : [drive]),
    ...stepsToEnd(told, countRest(balance), isWoken),
  ];
  const next = steps.find((s) => !s.isDone) ?? null;
  const checks = (['cablesHeld', 'harnessSeen'] as const)
    .filter((check) => steps.some((s) => s.id === (check === 'cablesHeld' ? 'cables' : 'harness')))
    .map((check) => ({ check, isGood: findChecked(refit, check) }));
  return { ...{ steps, next, missingForWake, missingForDrive, trim, groups, auxiliary, wake, isAwake, codes, checks } };
}

function step(id: RefitStepId, room: RefitRoom, title: string, isDone: boolean, todo: string, place: string | null = null): RefitStep {
  return { id, room, title, isDone, todo: isDone ? '' : todo, place: isDone ? null : place };
}

/** Pieces that go back, one group after the other. */
function backStep(id: RefitStepId, title: string, owed: readonly PartBalance[]): RefitStep {
  const [first] = owed;
  const todo = first ? `${first.owed} × ${first.part.name} back, ${first.part.where}` : '';
  return step(id, 'back', title, !first, todo, first?.part.place);
}

/** The last word on a check since cables or pack were last apart; null where nobody looked. */
function findChecked(refit: RefitState, check: RefitCheck): boolean | null {
  return refit.checked.findLast((c) => c.check === check && c.number > Math.max(refit.lifted, refit.bared))?.isGood ?? null;
}

/** @param transfersLeft null where nothing is exchanged */
function stepsIn(told: Told, transfersLeft: readonly string[] | null): RefitStep[] {
  const { refit, pack, missingForWake, groups } = told;
  const wasApart = refit.bared > 0 || refit.lifted > 0;
  const mounts = missingForWake.filter(isMount);
  const loose = groups.find((g) => g.isWhole && !g.isTight);
  const bolts = mounts.map((b) => `${b.owed} × ${b.part.name}`).join(', ');
  const areHeld = findChecked(refit, 'cablesHeld') === true;
  const isHome = findChecked(refit, 'harnessSeen') === true;
  const cables = areHeld ? 'state the HV cables on and covered' : 'pull on every HV cable: each fits one post by its length';
  const harness = 'press every low-voltage plug home and see the interlock';
  return [
    step('lift', 'back', 'The pack is in the car', !pack.isOnBench, 'lift the pack in'),
    step('mount', 'back', 'Every mounting bolt started by hand', !mounts[0], `${bolts} by hand, none tightened yet`, mounts[0]?.part.place),
    backStep(
      'early',
      'All that must be on before the wake',
      missingForWake.filter((b) => !isMount(b)),
    ),
    step('tighten', 'back', 'Tightened to torque', !loose, loose ? sayTighten(loose) : '', loose?.part.place),
    ...(wasApart ? [step('cables', 'back', 'HV cables at their posts', areHeld && pack.connectors === 'closed', cables)] : []),
    ...(wasApart || refit.touched > 0 ? [step('harness', 'back', 'Harness and interlock seen', isHome, harness)] : []),
    ...(transfersLeft
      ? [step('transfers', 'back', 'Moved across', !transfersLeft[0], `${transfersLeft[0] ?? ''}: moved across, came with it, or stays`)]
      : []),
  ];
}

function stepsToWake({ refit, pack, profile, auxiliary, wake, isFresh, hasWoken, back }: Told): RefitStep[] {
  const { name } = profile.plug;
  const isLatched = pack.isPlugIn && pack.isPlugLatched === true;
  const isOn = !pack.isTwelveVoltOff;
  const spark = refit.sparks.findLast((s) => s.number > refit.lifted)?.spark ?? null;
  const sparkTodo =
    spark === 'strong' ? 'a strong spark: find what draws before the 12 V goes on' : 'touch the 12 V negative lightly and judge the spark';
  const wakeTodo = pack.isKeyAway ? 'key back, brake, power' : sayWake(wake, isFresh, profile.wake.signs);
  const plug = [
    // what the first wake rested on may be undone for the trim
    step('plug', 'wake', `${name} in and latched`, hasWoken || isLatched, sayPlug(pack, profile)),
  ];
  const twelveVolt = [
    step('spark', 'wake', 'First touch of the 12 V', hasWoken || isOn || (spark !== null && spark !== 'strong'), sparkTodo),
    step('twelveVolt', 'wake', '12 V on', hasWoken || isOn, '12 V negative on and tight'),
  ];
  return [
    step('auxiliary', 'wake', '12 V battery', hasWoken || auxiliary?.verdict === 'fit', AUXILIARY_TODO[auxiliary?.verdict ?? 'loadIt']),
    ...(back === 'plugFirst' ? [...plug, ...twelveVolt] : [...twelveVolt, ...plug]),
    step('wake', 'wake', 'The car woke', hasWoken, wakeTodo),
  ];
}

function stepsOfRoad({ refit, codes }: Told, drive: RefitStep): RefitStep[] {
  const scan = refit.scanned.findLast((s) => s.moment === 'afterRepair' && s.number > refit.lifted);
  const road = lastRoad(refit);
  const stored = codes.filter((c) => c.statuses.includes('stored'));
  const clear = `${stored.map((c) => c.code).join(', ')}: clear once the repair answers it, then scan again`;
  const roadTodo = road ? 'the road test was not good: look on, then drive again' : 'road test, before the last trim';
  return [
    step('scan', 'scan', 'Scan after the repair', scan !== undefined, 'scan: codes, blocks, temperatures'),
    step('clear', 'scan', 'Codes cleared', !scan || stored.length === 0, clear),
    drive,
    step('road', 'road', 'Road test', road?.isGood === true, roadTodo),
    step('roadScan', 'scan', 'Scan after the road test', scanAfterRoad(refit) !== null, 'scan again: a code that returned shows now'),
  ];
}

/** The last drive since the pack was lifted in. */
function lastRoad({ driven, lifted }: RefitState): RefitState['driven'][number] | null {
  return driven.findLast((d) => d.number > lifted) ?? null;
}

/** The scan after the road test, since the pack was lifted in and since it was driven last; null where none was made. */
export function scanAfterRoad(refit: RefitState): RefitState['scanned'][number] | null {
  const since = Math.max(refit.lifted, lastRoad(refit)?.number ?? 0);
  return refit.scanned.findLast((s) => s.moment === 'afterRoadTest' && s.number > since) ?? null;
}

function stepsToEnd(told: Told, rest: number, isWoken: boolean): RefitStep[] {
  const { refit, pack, profile, trim, isAwake } = told;
  const isTold = refit.checked.some((c) => c.check === 'restTold' && c.isGood && c.number > refit.lifted);
  const apart = [
    ...(pack.isKeyAway ? [] : ['key away']),
    ...(pack.isTwelveVoltOff ? [] : ['12 V off']),
    ...(pack.isPlugIn ? [`${profile.plug.name} out`] : []),
  ];
  const isLatched = pack.isPlugIn && pack.isPlugLatched === true;
  const restTodo = `${rest} ${rest === 1 ? 'piece is' : 'pieces are'} left over: find the home, or say why it stays out`;
  return [
    ...(isWoken
      ? [step('apart', 'wake', 'Isolated again for the trim', !trim[0] || !apart[0], `${apart.join(', ')}: the trim goes back`)]
      : []),
    backStep('trim', 'Trim back', trim),
    step('rest', 'back', 'Nothing left over', trim.length > 0 || rest === 0 || isTold, restTodo),
    ...(isWoken
      ? [step('lastWake', 'wake', 'Woken after the last plug-in', isAwake && isLatched && !pack.isTwelveVoltOff, sayLastWake(told))]
      : []),
  ];
}

function sayPlug({ isPlugIn }: PackState, { plug, wake }: Profile): string {
  return isPlugIn ? `${plug.name}: ${wake.plugSteps.at(-1)}` : `${plug.name} in: ${wake.plugSteps.join(', ')}`;
}

/** The bolts that the pack hangs by. */
function isMount({ part }: PartBalance): boolean {
  return part.effects.some((e) => e.kind === 'partsMounting');
}

/** Pieces at hand that nothing is owed for. */
function countRest({ parts }: Balance): number {
  const atHand = (b: PartBalance): number => b.lots.reduce((sum, l) => sum + (isAtHand(l.spot) ? Math.max(0, l.count) : 0), 0);
  return parts.reduce((sum, b) => sum + Math.max(0, atHand(b) - Math.max(0, b.owed)), 0);
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
      const isTooSoon = last !== undefined && (last.number < b.lastIn || b.owed > 0);
      const fault = last ? sayOffTorque(b.part, last.newtonMetre) : null;
      return { part: b.part, isTight: last !== undefined && !isTooSoon && fault === null, isWhole: b.owed <= 0, isTooSoon, fault };
    });
}

function sayOffTorque({ torque }: PartBalance['part'], newtonMetre: number): string | null {
  if (!torque || isTorqueWithin(torque.newtonMetre, torque.tolerancePercent, newtonMetre)) return null;
  const slip = findSlip({ specNewtonMetre: torque.newtonMetre, tolerancePercent: torque.tolerancePercent }, newtonMetre);
  return slip?.sentence ?? `${showTorque(newtonMetre)} where ${showTorque(torque.newtonMetre)} is wanted.`;
}

function sayTighten({ part, isTooSoon, fault }: TightenGroup): string {
  const { newtonMetre } = part.torque ?? { newtonMetre: 0 };
  const inch = convertTorque(newtonMetre, 'Nm').poundForceInch.toFixed(0);
  const off = fault === null ? '' : `, again: ${lower(fault).replace(/\.$/, '')}`;
  const again = isTooSoon ? ', again: they were tight before all were in' : off;
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

function sayLastWake({ pack, profile, wake, isFresh, back }: Told): string {
  const plug = pack.isPlugIn && pack.isPlugLatched === true ? [] : [sayPlug(pack, profile)];
  const twelveVolt = pack.isTwelveVoltOff ? ['12 V negative on and tight'] : [];
  const [first] = back === 'plugFirst' ? [...plug, ...twelveVolt] : [...twelveVolt, ...plug];
  if (first !== undefined) return first;
  if (pack.isKeyAway) return 'key back, brake, power: the last wake comes after the last plug-in';
  return sayWake(wake, isFresh, profile.wake.signs);
}
