import { computed, inject, resource, type Signal } from '@angular/core';
import { termsAnswerSchema } from '@estuarine/contract';
import type { SupplierTerms } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';

/**
 * The supplier's conditions that were chosen on the open job; null where none were, or until they are known. Of two choices in quick
 * succession it is the second, whichever answer comes first. To be called where things are injected.
 */
export function chosenTerms(): Signal<SupplierTerms | null> {
  const [log, known] = [inject(JobLog), inject(KnownAnswers)];
  const path = computed(() => {
    const chosen = log.state()?.handOver.terms.at(-1)?.terms;
    return chosen ? `/api/terms/${chosen.id}/${chosen.version}` : undefined;
  });
  const asked = resource({ params: path, loader: async ({ params }) => (await known.ask(params, termsAnswerSchema)).value?.terms ?? null });
  return computed(() => (path() === undefined ? null : (asked.value() ?? null)));
}
