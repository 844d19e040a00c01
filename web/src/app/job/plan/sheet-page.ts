import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { plusSide, sentencesAgainst, type ProofRecord, SCHOOL_NAMES } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { stockAnswerSchema, type StockAnswer } from '@estuarine/contract';
import { Api } from '../../transport/api.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Notice } from '../../ui/notice.ts';

/** The stack on one A4 page, readable in black and white: order, polarity, and what came from where. */
@Component({
  selector: 'app-sheet-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, RouterLink, NzButtonModule, Notice],
  templateUrl: './sheet-page.html',
  styleUrl: './sheet-page.less',
})
export class SheetPage {
  protected readonly log = inject(JobLog);
  protected readonly names = SCHOOL_NAMES;
  protected readonly against = sentencesAgainst;
  /** Figures of the modules from the shelf; the sheet prints without them where the server is away. */
  readonly #shelf = signal<ReadonlyMap<string, StockAnswer['rows'][number]>>(new Map());
  protected readonly plan = computed(() => this.log.state()?.plan.chosen ?? null);
  protected readonly isKept = computed(() => this.log.kept()?.state.plan.chosen != null);
  protected readonly rows = computed(() => {
    const profile = this.log.profile();
    if (!profile) return [];
    const plan = this.plan();
    const ids = plan && plan.moduleIds.length > 0 ? plan.moduleIds : this.log.moduleIds();
    const shelf = new Set(plan?.fromShelf ?? []);
    const records = new Map(this.log.records().map((r) => [r.moduleId, r]));
    let block = 0;
    let left = profile.blocks[0] ?? 0;
    return ids.map((id, i) => {
      if (left === 0) left = profile.blocks[++block] ?? 0;
      left--;
      const record = records.get(id);
      return {
        place: i + 1,
        id,
        block: block + 1,
        isBlockStart: left + 1 === profile.blocks[block],
        from: shelf.has(id) ? 'shelf' : record?.place === i + 1 ? 'stays' : `place ${record?.place ?? '?'}`,
        plus: plusSide(profile, i + 1) === 'near' ? profile.layout.nearSide : profile.layout.farSide,
        capacityAh: record?.figures.capacityAh ?? this.#shelf().get(id)?.capacityAh ?? null,
        milliohm: record?.milliohm ?? this.#shelf().get(id)?.resistanceMilliohm ?? null,
      };
    });
  });
  /** How the vehicle was made dead, with what was overridden and why. */
  protected readonly isolated = computed(() => {
    const isolation = this.log.state()?.isolate;
    if (!isolation) return [];
    const when = (at: string): string => new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
    const signed = isolation.proofs.flatMap((p) => (p.signed ? [this.#sayProof(p, when)] : []));
    const overridden = isolation.overrides.map((o) => `Overridden by ${o.by.toUpperCase()}, ${when(o.at)}: ${o.stepId}. ${o.reason}`);
    return [...signed.slice(-1), ...overridden];
  });
  /** Two halves side by side, so that a pack fits on one page. */
  protected readonly halves = computed(() => {
    const rows = this.rows();
    const middle = Math.ceil(rows.length / 2);
    return [rows.slice(0, middle), rows.slice(middle)];
  });
  protected readonly out = computed(() => {
    const plan = this.plan();
    if (!plan || plan.moduleIds.length === 0) return [];
    const stays = new Set(plan.moduleIds);
    return this.log.records().filter((r) => !stays.has(r.moduleId));
  });

  constructor() {
    void inject(Api)
      .get('/api/stock', stockAnswerSchema)
      .then((reply) => {
        if (reply.kind === 'answer') this.#shelf.set(new Map(reply.value.rows.map((r) => [r.moduleId, r])));
      });
  }

  /** A proof that lapsed is told as one that was, never as one that stands. */
  #sayProof(proof: ProofRecord, when: (at: string) => string): string {
    const { signed, meterId, proofId } = proof;
    const by = `signed by ${(signed?.by ?? '').toUpperCase()}, ${when(signed?.at ?? '')}, meter ${meterId}`;
    const { standing, lapse } = this.log.isolation() ?? { standing: null, lapse: null };
    if (standing?.proof.proofId === proofId) return `Proven dead, ${by}.`;
    const ended = proof.lapsed
      ? { reason: proof.lapsed.reason, at: proof.lapsed.at }
      : lapse && { reason: lapse.reason, at: new Date(lapse.at).toISOString() };
    return `Was proven dead, ${by}; no longer${ended ? ` since ${when(ended.at)}. ${ended.reason}` : '.'}`;
  }

  protected print(): void {
    window.print();
  }
}
