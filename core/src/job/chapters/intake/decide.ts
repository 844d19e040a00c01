/** What becomes of acts that begin and end a job. */
import { refuse } from '../../../result.ts';
import type { Chapter } from '../table.ts';
import type { INTAKE } from './acts.ts';
import { KIND_RULES } from './kinds.ts';
import type { IntakeState } from './state.ts';

export const decideIntake = {
  'job.opened': (slice, act, { profile }) => {
    if (slice.opened) return refuse('notPermitted', 'This job is open already.');
    const { moduleIds, kind } = act.body;
    const wanted = profile.moduleCount;
    if (moduleIds.length === 0 && !KIND_RULES[kind].namesModules) return null;
    return moduleIds.length === wanted
      ? null
      : refuse('mismatch', `${moduleIds.length} modules do not fill the ${wanted} places.`, ['body', 'moduleIds']);
  },
  'job.closed': (slice, act, { role }, { unmet }) => {
    if (slice.closed) return refuse('notPermitted', 'This job is closed already.');
    const left = unmet();
    if (act.body.outcome === 'brokenOff') {
      if (role !== 'lead') return refuse('notPermitted', 'Only the lead breaks a job off.');
      return { ...act, body: { ...act.body, unmet: [...left] } };
    }
    const [first] = left;
    if (first === undefined) return null;
    const more = left.length > 1 ? ` And ${left.length - 1} more.` : '';
    return refuse('notPermitted', `${first}${more} The lead can break the job off with a reason.`);
  },
  'papers.corrected': () => null,
  'use.noted': () => null,
  'job.reopened': (slice) => (slice.closed ? null : refuse('notPermitted', 'This job is open.')),
} satisfies Chapter<IntakeState, typeof INTAKE>['decide'];
