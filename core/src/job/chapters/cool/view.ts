/** What the air path was and is, and what is next. Derived anew from the state; never stored. */
import { AIR_CHECK_NAMES, type AirCheck, type AirWord } from '../../../cool/air-words.ts';
import { judgeByCurve, judgeBySound, type FanJudgement } from '../../../cool/fan.ts';
import { findPathShare } from '../../../cool/path.ts';
import type { FlowKind, Profile } from '../../../pack/profile.ts';
import type { CoolState } from './state.ts';

export interface CoolScene {
  readonly cool: CoolState;
  readonly intake: { readonly opened: { readonly kind: string } | null };
}

export interface AirPart {
  /** In the profile's air path, from 0. */
  readonly part: number;
  readonly kind: FlowKind;
  readonly name: string;
  /** Shares that are shut; null where nobody looked. */
  readonly asFound: number | null;
  readonly after: number | null;
  /** What it is, or how it feels; null where nobody said. */
  readonly word: AirWord | null;
  readonly cleaned: CoolState['cleaned'][number] | null;
  /** Of a fan, what it is worth; null where nobody tested it. */
  readonly fan: FanJudgement | null;
  readonly curve: CoolState['curves'][number] | null;
  /** What is left to do with it, as it follows on "Next:"; null where nothing is. */
  readonly todo: string | null;
}

export interface Cooling {
  readonly parts: readonly AirPart[];
  /** Of the path, or of what a filter service is about; null before all that is asked for was looked at. */
  readonly foundShare: number | null;
  readonly nowShare: number | null;
  /** Every part was looked at, whether asked for or not. */
  readonly isWhole: boolean;
  /** What is looked at before it is shut again, once something was cleaned. */
  readonly checks: readonly { readonly check: AirCheck; readonly isGood: boolean | null }[];
  /** Whether it is asked if the cooling answers a damage: a service alone answers none. */
  readonly isJudged: boolean;
  readonly judged: CoolState['judged'][number] | null;
  readonly look: CoolState['looks'][number] | null;
  /** As it follows on "Next:"; null where all is done. */
  readonly next: string | null;
  /** The part that it is about; null where it is about none. */
  readonly nextPart: number | null;
}

/** So much shut is cleaned before it goes back; common practice, no source. */
const DIRTY_SHARE = 0.2;

export function findCooling({ cool, intake }: CoolScene, profile: Profile): Cooling {
  const kind = intake.opened?.kind;
  const parts = profile.airPath.map((plan, part) => viewPart(plan, part, cool, profile));
  // a filter service is about what can be reached from the cabin; what else is seen on the way counts all the same
  const isAsked = (p: AirPart): boolean => kind !== 'filterService' || p.kind === 'filter' || p.kind === 'intake' || p.asFound !== null;
  const asked = parts.some(isAsked) ? parts.filter(isAsked) : parts;
  const whole = (shareOf: (p: AirPart) => number | null): number | null => {
    const shares = asked.map((p) => ({ kind: p.kind, blockedShare: shareOf(p) }));
    return shares.some((s) => s.blockedShare === null)
      ? null
      : findPathShare(shares.map((s) => ({ ...s, blockedShare: s.blockedShare ?? 0 })));
  };
  const [judged, look] = [cool.judged.at(-1) ?? null, cool.looks.at(-1) ?? null];
  // all of it is looked at before any of it is cleaned
  const isTesting = kind !== 'filterService';
  const isLeft = (p: AirPart): boolean => p.todo !== null && (isTesting || p.kind !== 'fan' || p.cleaned !== null || p.fan !== null);
  const nextPart = asked.find((p) => p.asFound === null) ?? asked.find(isLeft) ?? null;
  const checks = listChecks(parts, cool, profile);
  const unseen = checks.find((c) => c.isGood !== true);
  const isJudged = kind !== 'filterService' && kind !== 'fanCleaning';
  const last = unseen
    ? `look: ${AIR_CHECK_NAMES[unseen.check]}`
    : isJudged && judged === null
      ? 'say whether the cooling answers the damage'
      : look === null
        ? 'set the next look'
        : null;
  return {
    ...{ parts, checks, isJudged, judged, look },
    foundShare: whole((p) => p.asFound),
    nowShare: whole((p) => p.after ?? p.asFound),
    isWhole: parts.every((p) => p.asFound !== null),
    next: nextPart?.todo ?? last,
    nextPart: nextPart?.part ?? null,
  };
}

function viewPart({ kind, name }: Profile['airPath'][number], part: number, cool: CoolState, { cooling }: Profile): AirPart {
  const own = <T extends { readonly part: number }>(list: readonly T[]): T | null => list.findLast((x) => x.part === part) ?? null;
  const asFound = own(cool.found.filter((f) => f.when === 'asFound'));
  const cleaned = own(cool.cleaned);
  const later = own(cool.found.filter((f) => f.when === 'after'));
  // what was found after an earlier cleaning says nothing of the last
  const after = later && later.number > (cleaned?.number ?? 0) ? later.blockedShare : null;
  const [sound, curve] = [own(cool.fans), own(cool.curves)];
  const fan = judgeLast(sound, curve, 2 * cooling.cleanCubicMetrePerHour);
  const word = own(cool.told)?.word ?? null;
  const view = { part, kind, name, asFound: asFound?.blockedShare ?? null, after, word, cleaned, fan, curve };
  return { ...view, todo: findTodo(view) };
}

/** What was tested last says what a fan is worth; where the other is worse and was not tested since, that one stands. */
function judgeLast(sound: CoolState['fans'][number] | null, curve: CoolState['curves'][number] | null, free: number): FanJudgement | null {
  const bySound = sound && judgeBySound(sound);
  const byCurve = curve && judgeByCurve(curve.points, free);
  if (!bySound || !byCurve) return bySound ?? byCurve;
  const [last, before] = curve.number > sound.number ? [byCurve, bySound] : [bySound, byCurve];
  // a curve hears no bearing: a fan that ground is not well because it moves air
  return last.isFit && last === byCurve && before.verdict === 'worn' ? before : last;
}

function findTodo({ kind, name, asFound, after, word, cleaned, fan }: Omit<AirPart, 'todo'>): string | null {
  if (asFound === null) return `look at the ${name}`;
  if (word === 'metalCrushed') return `press the ${name} out and feel it again`;
  if (word === 'plasticCrushed') return `another ${name}: it stays flat`;
  const isPipe = kind === 'duct' || kind === 'outlet';
  if (asFound >= DIRTY_SHARE && isPipe && word === null) return `feel the ${name}: metal or plastic, crushed or whole`;
  if (asFound >= DIRTY_SHARE && !cleaned && after === null) return `clean the ${name}`;
  if (cleaned && after === null) return `look at the ${name} again`;
  if (after !== null && after >= DIRTY_SHARE) return `clean the ${name} once more`;
  if (kind !== 'fan') return null;
  if (!fan) return `${name} on 12 V before it goes back`;
  return fan.isFit ? null : `another ${name}: ${fan.sentence}`;
}

function listChecks(parts: readonly AirPart[], { checked }: CoolState, { coolant }: Profile): Cooling['checks'] {
  const isCleaned = (kind: FlowKind): boolean => parts.some((p) => p.kind === kind && p.cleaned !== null);
  const checks: AirCheck[] = [
    ...(isCleaned('filter') ? (['tabRight'] as const) : []),
    ...(isCleaned('fan') ? (['sealWhole', 'strapHeld'] as const) : []),
    ...(coolant === null && parts.some((p) => p.cleaned !== null) ? (['sensorSeated'] as const) : []),
  ];
  return checks.map((check) => ({ check, isGood: checked.findLast((c) => c.check === check)?.isGood ?? null }));
}
