/** Whether a job stands up to a supplier's conditions: each met, still missing, or broken for good, with the record that says so. */
import { addDays, localTime, type CalendarDate } from '../../quantity/calendar.ts';
import type { Stage } from '../../pack/stage.ts';
import type { Profile } from '../../pack/profile.ts';
import { sayCondition, type Condition, type SupplierTerms } from '../../warranty/terms.ts';
import { findCooling } from '../chapters/cool/view.ts';
import { scanAfterRoad } from '../chapters/refit/view.ts';
import { findTorqueGroup, type TorqueGroup } from '../chapters/rebuild/torque-view.ts';
import type { JobState } from '../frame/state.ts';

export interface JudgedCondition {
  readonly condition: Condition;
  readonly sentence: string;
  /** `missing` can still be done; `broken` cannot, without opening what was shut or turning back the clock. */
  readonly standing: 'met' | 'missing' | 'broken';
  readonly why: string;
  /** Where the record is, or is to be made. */
  readonly stage: Stage;
  /** Said by a person, no record of the job tells it. */
  readonly isSaid: boolean;
}

type Judged = Pick<JudgedCondition, 'standing' | 'why' | 'stage'>;

/** Days are whole days of the shop's calendar: a last day is not over before it ends there. */
interface Calendar {
  readonly today: CalendarDate;
  readonly dayOf: (at: string) => CalendarDate;
}

/**
 * @param now epoch milliseconds
 * @param timeZone of the shop, IANA name
 */
export function judgeTerms(state: JobState, profile: Profile, terms: SupplierTerms, now: number, timeZone: string): JudgedCondition[] {
  const calendar: Calendar = { today: localTime(now, timeZone).date, dayOf: (at) => localTime(Date.parse(at), timeZone).date };
  return terms.conditions.map((condition) => {
    const judged = judge(condition, state, profile, calendar);
    const words = state.handOver.met.filter((m) => m.condition === condition.kind);
    // what was said to be broken is broken for good; who mistyped takes the word back
    const said = words.find((m) => !m.isMet) ?? words.at(-1);
    // a person's word stands where no record says otherwise
    const isSaid = said !== undefined && judged.standing === 'missing';
    const word = isSaid ? { standing: said.isMet ? ('met' as const) : ('broken' as const), why: `Said by ${said.by.toUpperCase()}. ${said.note}`.trim() } : {}; // prettier-ignore
    return { condition, sentence: sayCondition(condition), ...judged, ...word, isSaid };
  });
}

function judge(condition: Condition, state: JobState, profile: Profile, calendar: Calendar): Judged {
  switch (condition.kind) {
    case 'orderKept':
      return judgeOrder(state);
    case 'torqueBothPasses':
      return judgeTorque(state, profile);
    case 'barsRenewed':
      return judgeBars(state, profile, (b) => b.how === 'new', 'new', 'cleaned, not renewed');
    case 'newNuts':
      return judgeBars(state, profile, (b) => b.haveNewNuts, 'with new nuts', 'with the old nuts');
    case 'oldReturned':
      return judgeReturn(state, condition.withinDays, calendar);
    case 'coolingAnswered':
      return judgeCooling(state, profile);
    case 'scanKept': {
      const scan = scanAfterRoad(state.refit);
      return { standing: scan ? 'met' : 'missing', why: scan ? `Event ${scan.number}, ${scan.reader}.` : 'No scan after the road test yet.', stage: 'refit' }; // prettier-ignore
    }
    case 'photographs': {
      const count = state.finding.photos.filter((p) => p.erased === null).length;
      return { standing: count >= condition.least ? 'met' : 'missing', why: `${count} of ${condition.least}.`, stage: 'handOver' };
    }
    case 'finishedWithin':
      return judgeFinished(state, condition.days, calendar);
  }
}

function judgeOrder({ plan, open, pack }: JobState): Judged {
  const stage = 'rebuild';
  const ids = plan.chosen?.moduleIds ?? [];
  if (ids.length === 0) return { standing: 'missing', why: 'No plan with an order is chosen.', stage: 'match' };
  const off = ids.flatMap((id, i) => (pack.places[i]?.moduleId === id ? [] : [i + 1]));
  if (off.length === 0) return { standing: 'met', why: `All ${ids.length} sit where the plan has them.`, stage };
  const isLaid = (place: number): boolean => {
    const there = pack.places[place - 1]?.moduleId ?? null;
    return there !== null && open.history.some((h) => h.place === place && h.moduleId === there);
  };
  const wrong = off.filter(isLaid);
  return wrong.length > 0 && wrong.length === off.length
    ? { standing: 'broken', why: `Place ${wrong.join(', ')} holds another module than the order says.`, stage }
    : { standing: 'missing', why: `${off.length} of ${ids.length} places are not filled as the order says.`, stage };
}

/** The terminal groups of the profile: those that get a second pass. */
function terminalGroups(state: JobState, profile: Profile): TorqueGroup[] {
  return profile.parts
    .filter((p) => p.torque !== null)
    .map((p) => findTorqueGroup(p, state, profile))
    .filter((g) => g.wantedPasses === 2);
}

function judgeTorque(state: JobState, profile: Profile): Judged {
  const seats = terminalGroups(state, profile).flatMap((g) => g.seats);
  const [left, faults] = [seats.filter((s) => s.passes < 2), seats.filter((s) => s.fault !== null)];
  const stage = 'rebuild';
  if (seats.length === 0) return { standing: 'missing', why: 'The profile gives no torque for a terminal.', stage };
  if (left.length === 0) return { standing: 'met', why: `All ${seats.length} in two passes.`, stage };
  const why = `${seats.length - left.length} of ${seats.length} in two passes${faults[0] ? `; ${faults[0].fault}` : ''}.`.replace(
    '..',
    '.',
  );
  // behind shut covers nobody tightens any more
  const isShut = state.refit.lifted > 0 && !state.pack.isCaseOpen && !state.pack.isOnBench;
  return { standing: isShut ? 'broken' : 'missing', why: isShut ? `${why} The case is shut and in the car.` : why, stage };
}

function judgeBars(
  { rebuild }: JobState,
  profile: Profile,
  isGood: (bars: JobState['rebuild']['bars'][number]) => boolean,
  good: string,
  bad: string,
): Judged {
  const stage = 'rebuild';
  const whole = rebuild.bars.findLast((b) => b.frame === null);
  const ids: (string | null)[] = profile.frames.length > 0 ? profile.frames.map((f) => f.id) : [null];
  const last = ids.map((id) => {
    const own = rebuild.bars.findLast((b) => b.frame === id);
    return own && whole ? (own.number > whole.number ? own : whole) : (own ?? whole ?? null);
  });
  const old = last.findIndex((b) => b !== null && !isGood(b));
  if (old >= 0) return { standing: 'missing', why: `${profile.frames[old]?.id ?? 'The bars'}: ${bad}.`, stage };
  const left = last.filter((b) => b === null).length;
  if (left > 0) return { standing: 'missing', why: 'Not said of every bar yet.', stage };
  return { standing: 'met', why: `Every bar ${good}.`, stage };
}

function judgeReturn({ handOver, intake }: JobState, withinDays: number, { today, dayOf }: Calendar): Judged {
  const stage = 'handOver';
  // what was agreed later is a correction of what, not of when
  const began = handOver.agreed[0]?.at ?? intake.opened?.at;
  if (began === undefined) return { standing: 'missing', why: 'The job was not opened.', stage };
  const last = addDays(dayOf(began), withinDays);
  const wanted = handOver.agreed.at(-1)?.count ?? 1;
  const shipped = handOver.shipped.toSorted((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : 0));
  let count = 0;
  // the day on which the last of them went
  const whole = shipped.find((s) => (count += s.count) >= wanted);
  if (whole) {
    const isLate = whole.on > last;
    return { standing: isLate ? 'broken' : 'met', why: `Shipped ${whole.on}${isLate ? `, after ${last}` : ''}.`, stage };
  }
  const some = count > 0 ? `${count} of ${wanted} shipped. ` : '';
  return today > last
    ? { standing: 'broken', why: `${some}Not all back by ${last}.`, stage }
    : { standing: 'missing', why: `${some}To be shipped by ${last}.`, stage };
}

function judgeCooling(state: JobState, profile: Profile): Judged {
  const { next, judged } = findCooling(state, profile);
  if (judged?.isAnswered === false) return { standing: 'missing', why: 'Said not to be answered.', stage: 'cool' };
  return {
    standing: next === null ? 'met' : 'missing',
    why: next === null ? 'Looked at, cleaned, answered.' : `Next: ${next}.`,
    stage: 'cool',
  };
}

function judgeFinished({ intake }: JobState, limit: number, { today, dayOf }: Calendar): Judged {
  const stage = 'handOver';
  if (!intake.opened) return { standing: 'missing', why: 'The job was not opened.', stage };
  const last = addDays(dayOf(intake.opened.at), limit);
  // a job that is opened again was finished once
  const first = intake.closings[0];
  const end = first === undefined ? today : dayOf(first);
  if (end > last) return { standing: 'broken', why: `Not closed by ${last}.`, stage };
  return first === undefined
    ? { standing: 'missing', why: `To be closed by ${last}.`, stage }
    : { standing: 'met', why: `Closed ${end}.`, stage };
}
