import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import {
  CLEANING_SCHOOLS,
  compareDamage,
  findCoolEffect,
  findCooling,
  findLookAt,
  judgeFan,
  lookAfter,
  proposeLook,
  readDecimal,
  USES,
  USUAL_BASIS,
  type AirPart,
  type CleaningSchool,
  type Use,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../line/job-log.ts';
import { Link } from '../../line/link.ts';
import { Plot, type PlotLine } from '../../ui/plot.ts';
import { TextField } from '../../ui/text-field.ts';
import { DirtCards } from './dirt-cards.ts';
import { FanForm } from './fan-form.ts';
import { FlowDrawing } from './flow-drawing.ts';

const SCHOOLS: Record<CleaningSchool, { readonly name: string; readonly risk: string }> = {
  dry: { name: 'dry: swabs and brushes', risk: 'The foam seal stays whole; fine dust stays in the corners. Mask on.' },
  air: { name: 'compressed air', risk: 'The housing is opened: its seal is ordered before. Hold the wheel, or its bearing runs away.' },
  washed: { name: 'washed, its motor off', risk: 'Dry it wholly; never wet a motor or a board.' },
  renewed: { name: 'a new one', risk: 'A filter: its tab the right way round.' },
};
const USE_NAMES: Record<Use, string> = {
  pets: 'pets',
  children: 'children',
  dust: 'dusty roads',
  luggage: 'luggage on the intake',
  smoke: 'smoke',
};

/** What the air met on its way, what that did to the modules, and when to look again. */
@Component({
  selector: 'app-cool-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DirtCards, FanForm, FlowDrawing, NzButtonModule, Plot, TextField],
  templateUrl: './cool-stage.html',
  styleUrls: ['../two-panes.less', './cool-stage.less'],
})
export class CoolStage {
  protected readonly log = inject(JobLog);
  readonly #link = inject(Link);
  protected readonly schools = CLEANING_SCHOOLS.map((id) => ({ id, ...SCHOOLS[id] }));
  protected readonly uses = USES.map((id) => ({ id, name: USE_NAMES[id] }));
  protected readonly schoolNames = SCHOOLS;
  protected readonly judgeFan = judgeFan;

  protected readonly cooling = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? findCooling(state, profile) : null;
  });
  /** Follows what is left to do until somebody picks another part. */
  readonly #nextPart = computed(() => this.cooling()?.nextPart ?? null);
  protected readonly partIndex = linkedSignal<number | null, number>({
    source: this.#nextPart,
    computation: (next, before) => next ?? before?.value ?? 0,
  });
  protected readonly part = computed(() => this.cooling()?.parts[this.partIndex()] ?? null);
  /** Once a part was cleaned, what is seen of it is seen afterwards. */
  protected readonly isAfter = computed(() => {
    const part = this.part();
    return part !== null && part.asFound !== null && (part.cleaned !== null || part.after !== null);
  });
  protected readonly isNowShown = computed(() => this.cooling()?.parts.some((p) => p.after !== null) ?? false);
  protected readonly percent = signal('');
  protected readonly percentFault = signal('');

  protected readonly effect = computed(() => {
    const [cooling, profile] = [this.cooling(), this.log.profile()];
    return cooling && profile ? findCoolEffect(cooling, profile) : null;
  });
  protected readonly basis = USUAL_BASIS;
  protected readonly lines = computed((): PlotLine[] => {
    const effect = this.effect();
    if (!effect) return [];
    const line = (kind: PlotLine['kind'], name: string, tone: PlotLine['tone'], y: readonly number[]): PlotLine => ({
      ...{ kind, name, tone, y },
      x: y.map((_, i) => i + 1),
    });
    const flow = (n: number): string => `${n.toFixed(0)} m³/h`;
    return [
      line('dash', `clean, ${flow(effect.clean.airflowCubicMetrePerHour)}`, 'fog', effect.clean.moduleCelsius),
      line('line', `as found, ${flow(effect.found.airflowCubicMetrePerHour)}`, 'madder', effect.found.moduleCelsius),
      ...(this.isNowShown()
        ? [line('line', `now, ${flow(effect.now.airflowCubicMetrePerHour)}`, 'channel', effect.now.moduleCelsius)]
        : []),
    ];
  });
  /** Weakness by capacity where it was measured, else by the voltage lost at rest. */
  protected readonly agreement = computed(() => {
    const effect = this.effect();
    const records = this.log.records();
    if (!effect) return null;
    const byCapacity = records.map((r) => (r.figures.capacityAh === undefined ? null : -r.figures.capacityAh));
    const byRest = records.map((r) => r.figures.restDropMillivolt ?? null);
    const hasCapacity = byCapacity.some((w) => w !== null);
    const found = compareDamage(effect.found.moduleCelsius, hasCapacity ? byCapacity : byRest);
    return found && { ...found, by: hasCapacity ? 'lost most capacity' : 'lost most at rest' };
  });

  protected readonly months = signal('');
  protected readonly carries = linkedSignal<ReadonlySet<Use>>(() => new Set(this.cooling()?.look?.uses ?? []));
  readonly #since = computed(() => (this.months().trim() === '' ? null : readDecimal(this.months())));
  protected readonly monthsFault = computed(() => {
    const since = this.#since();
    if (since?.kind === 'refused') return since.message;
    return since && (since.value < 0 || since.value > 600) ? 'Months from 0 to 600.' : '';
  });
  protected readonly proposal = computed(() => {
    const [cooling, since] = [this.cooling(), this.#since()];
    if (!cooling || this.monthsFault() !== '') return null;
    return proposeLook(cooling, since?.kind === 'answer' ? since.value : null, [...this.carries()]);
  });
  protected readonly lookDay = computed(() => this.#dayIn(this.proposal()?.monthsToNext ?? 3));
  protected readonly setDay = computed(() => {
    const state = this.log.state();
    const at = state && findLookAt(state);
    return at ? dayOf(at) : '';
  });

  protected see(part: AirPart, blockedShare: number): void {
    const when = this.isAfter() ? 'after' : 'asFound';
    void this.log.act({ type: 'air.found', body: { part: part.part, when, blockedShare, note: '' } });
    this.percent.set('');
  }

  protected seePercent(part: AirPart): void {
    const read = readDecimal(this.percent());
    if (read.kind === 'refused' || read.value < 0 || read.value > 99) {
      this.percentFault.set(read.kind === 'refused' ? read.message : 'From 0 to 99 percent: what is wholly shut is 99.');
      return;
    }
    this.percentFault.set('');
    this.see(part, read.value / 100);
  }

  protected clean(part: AirPart, school: CleaningSchool): void {
    void this.log.act({ type: 'air.cleaned', body: { part: part.part, school, note: '' } });
  }

  protected judge(isAnswered: boolean): void {
    void this.log.act({ type: 'cooling.judged', body: { isAnswered, note: '' } });
  }

  protected toggle(use: Use): void {
    const next = new Set(this.carries());
    if (!next.delete(use)) next.add(use);
    this.carries.set(next);
  }

  protected setLook(): void {
    const months = this.proposal()?.monthsToNext;
    if (months !== undefined) void this.log.act({ type: 'look.set', body: { months, uses: [...this.carries()] } });
  }

  #dayIn(months: number): string {
    return dayOf(lookAfter(this.#link.serverNow(), months));
  }
}

function dayOf(at: number): string {
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' }).format(at);
}
