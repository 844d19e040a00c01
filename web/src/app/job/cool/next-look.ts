import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import {
  findLookAt,
  lookAfter,
  monthsSinceClean,
  proposeLook,
  readDecimal,
  USE_NAMES,
  USES,
  type Cooling,
  type Use,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { TextField } from '../../ui/text-field.ts';
import { recallForJob } from '../strip/memory.ts';

/** When to look at the air path again, and when to open the pack for its cells: what is known of both, proposed and set. */
@Component({
  selector: 'app-next-look',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  templateUrl: './next-look.html',
  styleUrl: './next-look.less',
})
export class NextLook {
  readonly cooling = input.required<Cooling>();

  protected readonly log = inject(JobLog);
  readonly #link = inject(Link);
  protected readonly uses = USES.map((id) => ({ id, name: USE_NAMES[id] }));
  readonly #memory = recallForJob();
  protected readonly earlier = computed(() => this.#memory()?.air ?? null);
  /** Months since it was clean as the last job of this vehicle left it, until somebody writes others. */
  readonly #knownMonths = computed(() => {
    const months = monthsSinceClean(this.earlier()?.own ?? [], this.#link.serverNow());
    return months === null ? '' : months.toFixed(0);
  });
  protected readonly months = linkedSignal(() => this.#knownMonths());
  /** As set before, else as intake heard it: nobody is asked twice. */
  readonly #setUses = computed(() => (this.cooling().look?.uses ?? this.log.state()?.intake.use?.uses ?? []).join());
  protected readonly carries = linkedSignal<ReadonlySet<Use>>(() => new Set(USES.filter((u) => this.#setUses().split(',').includes(u))));
  readonly #since = computed(() => (this.months().trim() === '' ? null : readDecimal(this.months())));
  protected readonly monthsFault = computed(() => {
    const since = this.#since();
    if (since?.kind === 'refused') return since.message;
    return since && (since.value < 0 || since.value > 600) ? 'Months from 0 to 600.' : '';
  });
  protected readonly proposal = computed(() => {
    const [cooling, since, profile] = [this.cooling(), this.#since(), this.log.profile()];
    if (!profile || this.monthsFault() !== '') return null;
    return proposeLook(cooling, since?.kind === 'answer' ? since.value : null, [...this.carries()], profile, this.earlier()?.own);
  });
  protected readonly lookDay = computed(() => this.#dayIn(this.proposal()?.monthsToNext ?? 3));
  protected readonly stripDay = computed(() => this.#dayIn(this.proposal()?.monthsToStrip ?? 0));
  protected readonly setDays = computed(() => {
    const state = this.log.state();
    const at = state && findLookAt(state);
    return at ? { look: dayOf(at.look), strip: at.strip === null ? '' : dayOf(at.strip) } : null;
  });

  protected toggle(use: Use): void {
    const next = new Set(this.carries());
    if (!next.delete(use)) next.add(use);
    this.carries.set(next);
  }

  protected setLook(): void {
    const proposal = this.proposal();
    if (!proposal) return;
    const body = { months: proposal.monthsToNext, stripMonths: proposal.monthsToStrip ?? null, uses: [...this.carries()] };
    void this.log.act({ type: 'look.set', body });
  }

  protected readonly dayOf = dayOf;

  #dayIn(months: number): string {
    return dayOf(lookAfter(this.#link.serverNow(), months));
  }
}

function dayOf(at: number): string {
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' }).format(at);
}
