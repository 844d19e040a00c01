/** Who may sign hazards: the role, and a training that is still valid. */
import type { Role } from '../job/chapters/chapter.ts';
import type { CalendarDate } from '../quantity/calendar.ts';
import type { Competence } from './act.ts';

/**
 * Why a person may not sign hazards on a day, as a sentence; null where they may. An apprentice never does; a technician and the
 * lead need a high-voltage training on record that has not run out.
 */
export function whyNotSign(role: Role, competences: readonly Competence[], today: CalendarDate): string | null {
  if (role === 'apprentice') return 'An apprentice looks and measures; a qualified person signs. Ask for a co-sign.';
  const last = competences.reduce<string | null>((latest, c) => (latest === null || c.validUntil > latest ? c.validUntil : latest), null);
  if (last === null) return 'No high-voltage training is on record for you: the lead records it under People.';
  return last >= today ? null : `Your high-voltage training ran out on ${last}.`;
}
