/** What is left until a job is handed over: one list, each thing done in one of the rooms of the stage. */
import { addMonths, localTime, type CalendarDate } from '../../quantity/calendar.ts';
import { findCoreDesk } from '../chapters/hand-over/view.ts';
import type { Profile } from '../../pack/profile.ts';
import { findUnmet, isNeeded, unmetOf } from './closing.ts';
import type { JobState } from './state.ts';

export type HandOverRoom = 'finish' | 'report' | 'core';

export interface HandOverStep {
  readonly id: 'causes' | 'warranty' | 'photographs' | 'rest' | 'close' | 'core';
  readonly room: HandOverRoom;
  readonly title: string;
  readonly isDone: boolean;
  /** As it follows on "Next:"; empty where it is done. */
  readonly todo: string;
}

export interface HandOver {
  readonly steps: readonly HandOverStep[];
  /** Null where all is done. */
  readonly next: HandOverStep | null;
}

/** What was promised of pack and vehicle. */
export interface Warranty {
  /** Its last day, by the shop's calendar. */
  readonly until: CalendarDate;
  readonly kilometre: number | null;
}

/**
 * Counted from the day on which the job was closed, until then from the day of the promise; null where nothing is promised.
 * @param timeZone of the shop, IANA name
 */
export function findWarranty({ handOver, intake }: Pick<JobState, 'handOver' | 'intake'>, timeZone: string): Warranty | null {
  const given = handOver.given.at(-1);
  if (!given || given.months === 0) return null;
  const from = localTime(Date.parse(intake.closed?.at ?? given.at), timeZone).date;
  return { until: addMonths(from, given.months), kilometre: given.kilometre };
}

export function findHandOver(state: JobState, profile: Profile): HandOver {
  const { handOver, finding, intake } = state;
  const isClosed = intake.closed !== null;
  const areCausesNeeded = isNeeded(state, 'causesAnswered');
  const open = areCausesNeeded ? unmetOf('causesAnswered', state, profile) : [];
  const [cause] = open;
  const left = isClosed ? [] : findUnmet(state, profile).filter((why) => !open.includes(why));
  const desk = findCoreDesk(handOver);
  const photos = finding.photos.filter((p) => p.erased === null);
  const step = (id: HandOverStep['id'], room: HandOverRoom, title: string, todo: string | null): HandOverStep => ({
    ...{ id, room, title, isDone: todo === null, todo: todo ?? '' },
  });
  const steps = [
    ...(areCausesNeeded ? [step('causes', 'finish', 'Causes answered', isClosed || cause === undefined ? null : sayCause(cause))] : []), // prettier-ignore
    step('warranty', 'finish', 'Warranty said', isClosed || handOver.given.length > 0 ? null : 'say what is promised, or that nothing is'),
    ...(photos.length > 0
      ? [
          step(
            'photographs',
            'report',
            'Photographs chosen',
            isClosed || handOver.prepared.length > 0 ? null : 'choose the photographs of the report',
          ),
        ]
      : []),
    step('rest', 'finish', 'Nothing stands against closing', left[0] === undefined ? null : lower(left[0])),
    step('close', 'finish', 'Closed', isClosed ? null : 'close the job'),
    ...(desk ? [step('core', 'core', 'The old ones returned', desk.next)] : []),
  ];
  return { steps, next: steps.find((s) => !s.isDone) ?? null };
}

function sayCause(why: string): string {
  return why === 'No cause of the damage is named.' ? 'name what brought the car in, and whether it is answered' : lower(why);
}

function lower(text: string): string {
  return `${text.slice(0, 1).toLowerCase()}${text.slice(1)}`.replace(/\.$/, '');
}
