/** Dates without a time of day, as test stickers and certificates carry them: `2026-11-25`. No time zone enters. */

export type CalendarDate = string;

/** The same day so many months on; the last day of the month where that day does not exist (31 January + 1 month = 28 February). */
export function addMonths(date: CalendarDate, months: number): CalendarDate {
  const [year = 0, month = 1, day = 1] = date.split('-').map(Number);
  const index = year * 12 + (month - 1) + months;
  const lastDay = new Date(Date.UTC(Math.floor(index / 12), (index % 12) + 1, 0)).getUTCDate();
  return new Date(Date.UTC(Math.floor(index / 12), index % 12, Math.min(day, lastDay))).toISOString().slice(0, 10);
}

/** The day so many days on. */
export function addDays(date: CalendarDate, days: number): CalendarDate {
  return new Date(Date.parse(date) + days * 86_400_000).toISOString().slice(0, 10);
}

/** Whole days from one date to another; negative where the second is earlier. */
export function daysBetween(from: CalendarDate, to: CalendarDate): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
}

/** Making a formatter costs far more than using it. */
const formatters = new Map<string, Intl.DateTimeFormat>();

function formatterOf(timeZone: string): Intl.DateTimeFormat {
  const known = formatters.get(timeZone);
  if (known) return known;
  const made = new Intl.DateTimeFormat('en-GB', {
    ...{ timeZone, hourCycle: 'h23', year: 'numeric', month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit' },
  });
  formatters.set(timeZone, made);
  return made;
}

/** The calendar date of an instant in a time zone (IANA name), and its time of day as `HH:MM`. */
export function localTime(at: number, timeZone: string): { readonly date: CalendarDate; readonly time: string } {
  const parts = formatterOf(timeZone).formatToParts(at);
  const of = (type: string): string => parts.find((p) => p.type === type)?.value ?? '';
  return { date: `${of('year')}-${of('month')}-${of('day')}`, time: `${of('hour')}:${of('minute')}` };
}

/** The next instant after `at` at which clocks of the zone show a time of day (`HH:MM`), to the minute, as epoch milliseconds. */
export function nextTimeOfDay(at: number, time: string, timeZone: string): number {
  const minute = 60_000;
  const now = localTime(at, timeZone);
  const minutesOf = (text: string): number => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));
  const ahead = (minutesOf(time) - minutesOf(now.time) + 1440) % 1440;
  const guess = Math.floor(at / minute) * minute + (ahead === 0 ? 1440 : ahead) * minute;
  // a change of the clocks between now and then moves the guess by its hour
  const shown = localTime(guess, timeZone).time;
  const off = ((minutesOf(time) - minutesOf(shown) + 720 + 1440) % 1440) - 720;
  return guess + off * minute;
}

export function isTimeZone(name: string): boolean {
  try {
    return new Intl.DateTimeFormat('en-GB', { timeZone: name }).resolvedOptions().timeZone !== '';
  } catch {
    return false;
  }
}
