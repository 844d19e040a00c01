import { computed, inject, resource, type Signal } from '@angular/core';
import { instrumentsAnswerSchema, type InstrumentRow } from '@estuarine/contract';
import { KnownAnswers } from './known-answers.ts';

/** The instruments of the shop, as the server or this device knows them; empty until they are. To be called where things are injected. */
export function listInstruments(): Signal<readonly InstrumentRow[]> {
  const known = inject(KnownAnswers);
  const asked = resource({ loader: () => known.ask('/api/instruments', instrumentsAnswerSchema) });
  return computed(() => asked.value()?.value?.instruments ?? []);
}

/** The first instrument of a kind; null where the shop has none. */
export function findInstrument(kind: InstrumentRow['kind']): Signal<InstrumentRow | null> {
  const all = listInstruments();
  return computed(() => all().find((i) => i.kind === kind) ?? null);
}
