import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { figuresAnswerSchema, type FiguresAnswer, type StockAnswer, stockAnswerSchema } from '@estuarine/contract';
import { STACK_SCHOOLS, type School, type SchoolInput, type SchoolPlan, type StackSchool, SCHOOL_NAMES } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { Api } from '../../transport/api.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { Session } from '../../session/session.ts';
import { Notice } from '../../ui/notice.ts';
import { StackDrawing } from './stack-drawing.ts';
import { MatchRun } from './match-run.ts';
import { splitShelf } from './shelf.ts';

/** The schools of repair side by side for this job; the chosen one reserves its modules. */
@Component({
  selector: 'app-match-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, NzButtonModule, Notice, StackDrawing],
  providers: [MatchRun],
  templateUrl: './match-stage.html',
  styleUrl: './match-stage.less',
})
export class MatchStage {
  protected readonly log = inject(JobLog);
  protected readonly run = inject(MatchRun);
  readonly #api = inject(Api);
  readonly #session = inject(Session);
  readonly #link = inject(Link);

  protected readonly schools = STACK_SCHOOLS;
  protected readonly names = SCHOOL_NAMES;
  readonly #comebacks = signal<FiguresAnswer['figures']['comebacks']>([]);
  readonly #stock = signal<StockAnswer | null>(null);
  protected readonly stockFailed = signal(false);
  protected readonly shown = signal<StackSchool>('spotRepairReordered');
  /** Places to be replaced: the rejected ones, until a person says otherwise. */
  readonly #rejected = computed(
    () =>
      this.log
        .records()
        .filter((r) => r.verdict === 'reject')
        .map((r) => r.place),
    {
      equal: (a, b) => a.join() === b.join(),
    },
  );
  protected readonly replaced = linkedSignal(() => new Set(this.#rejected()));

  protected readonly shelf = computed(() => {
    const profile = this.log.profile();
    const stock = this.#stock();
    return profile && stock ? splitShelf(stock.rows, profile, this.log.state()?.intake.opened?.number ?? 0) : null;
  });
  protected readonly mayChoose = computed(() => {
    const role = this.#session.person()?.role;
    return role === 'technician' || role === 'lead';
  });
  protected readonly isLive = this.#link.isLive;
  protected readonly plan = computed((): SchoolPlan | null => {
    const result = this.run.results()[this.shown()];
    return result.kind === 'plan' && result.plan.moduleIds.length > 0 ? result.plan : null;
  });
  protected readonly chosen = computed(() => this.log.state()?.plan.chosen ?? null);
  protected readonly isChosenKept = computed(() => this.log.kept()?.state.plan.chosen != null);
  protected readonly drawn = computed(() => {
    const chosen = this.chosen();
    if (chosen) return chosen.moduleIds.length > 0 ? chosen : null;
    return this.plan();
  });
  protected readonly measured = computed(() => this.log.records().filter((r) => r.figures.capacityAh !== undefined).length);

  constructor() {
    void this.loadStock();
    void inject(KnownAnswers)
      .ask('/api/figures', figuresAnswerSchema)
      .then(({ value }) => this.#comebacks.set(value?.figures.comebacks ?? []));
  }

  /** What became of jobs of this school on this pack in this shop; empty where none was closed. */
  protected cameBack(school: School): string {
    const line = this.#comebacks().find((c) => c.school === school && c.profileName === this.log.profile()?.name);
    return line ? `Of ${line.closed} like this here ${line.comebacks} came back.` : '';
  }

  protected async loadStock(): Promise<void> {
    const reply = await this.#api.get('/api/stock', stockAnswerSchema);
    this.stockFailed.set(reply.kind !== 'answer');
    if (reply.kind === 'answer') this.#stock.set(reply.value);
  }

  protected toggle(place: number): void {
    if (this.chosen()) return;
    this.replaced.update((places) => {
      const next = new Set(places);
      if (!next.delete(place)) next.add(place);
      return next;
    });
  }

  protected async compute(): Promise<void> {
    this.run.clear();
    await this.loadStock();
    const input = this.#toInput();
    if (input) await this.run.start(input);
  }

  protected percent(share: number): number {
    return Math.round(100 * share);
  }

  /** Least capacity and spread of a stack, over the modules whose capacity is known. */
  protected strength(plan: SchoolPlan): { readonly least: number; readonly spread: number } | null {
    const known = new Map<string, number>();
    for (const r of this.log.records()) if (r.figures.capacityAh !== undefined) known.set(r.moduleId, r.figures.capacityAh);
    for (const m of this.shelf()?.free ?? []) if (typeof m.capacityAh === 'number') known.set(m.id, m.capacityAh);
    const values = plan.moduleIds.flatMap((id) => known.get(id) ?? []);
    return values.length > 0 ? { least: Math.min(...values), spread: Math.max(...values) - Math.min(...values) } : null;
  }

  /** Which modules go where; what that comes to is computed where the plan is kept. The other plans stood on the shelf before it. */
  protected async choose(school: School, plan: SchoolPlan | null): Promise<void> {
    const chosen = { school, moduleIds: [...(plan?.moduleIds ?? [])], fromShelf: [...(plan?.fromShelf ?? [])] };
    const computed = { rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] };
    this.run.clear();
    await this.log.act({ type: 'plan.chosen', body: { ...chosen, ...computed } });
  }

  protected async withdraw(): Promise<void> {
    const plan = this.chosen();
    if (plan) await this.log.act({ type: 'plan.withdrawn', body: { planId: plan.planId } });
  }

  #toInput(): SchoolInput | null {
    const profile = this.log.profile();
    const shelf = this.shelf();
    if (!profile || !shelf) return null;
    const placed = this.log.records().map((r) => ({
      id: r.moduleId,
      place: r.place,
      capacityAh: r.figures.capacityAh ?? null,
      resistanceMilliohm: r.milliohm,
      restDropMillivolt: r.figures.restDropMillivolt ?? null,
      ocvVolt: r.restingVolt,
    }));
    // what would reject a module in the pack does not come into it from the shelf
    const { matching, limits } = this.log.policy();
    return {
      survivors: placed.filter((m) => !this.replaced().has(m.place)),
      rejects: placed.filter((m) => this.replaced().has(m.place)),
      shelf: shelf.free,
      blockSizes: profile.blocks,
      heatWeights: profile.heatWeights,
      limits: {
        minCapacityAh: stricter(Math.max, matching.minCapacityAh, limits.minCapacityAh),
        maxResistanceMilliohm: stricter(Math.min, matching.maxResistanceMilliohm, limits.maxResistanceMilliohm),
        maxRestDropMillivolt: stricter(Math.min, matching.maxRestDropMillivolt, limits.maxRestDropMillivolt),
      },
      objective: matching.objective,
      nominal: { capacityAh: profile.moduleType.nominalCapacityAh, resistanceMilliohm: profile.moduleType.typicalMilliohm },
    };
  }
}

function stricter(of: (...values: number[]) => number, ...limits: (number | null)[]): number | null {
  const set = limits.filter((limit) => limit !== null);
  return set.length > 0 ? of(...set) : null;
}
