/** The one shape of an error over HTTP: problem details (RFC 9457) with the core's refusal code where there is one. */
import * as z from 'zod';

export const problemSchema = z.object({
  /** `urn:estuarine:` and a permanent code. */
  type: z.string(),
  title: z.string(),
  status: z.int(),
  /** What is wrong, what was kept, what to do. */
  detail: z.string(),
  /** Where in the request, outermost first. */
  path: z.array(z.union([z.string(), z.number()])),
});
export type Problem = z.infer<typeof problemSchema>;

export const PROBLEM_PREFIX = 'urn:estuarine:';

/** The code of a problem without its prefix, such as `taken`. */
export function problemCode(problem: Problem): string {
  return problem.type.startsWith(PROBLEM_PREFIX) ? problem.type.slice(PROBLEM_PREFIX.length) : problem.type;
}
