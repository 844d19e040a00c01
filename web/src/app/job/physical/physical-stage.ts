import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { Fact, Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { selectByLabel } from '../../labels/select-by-label.ts';
import { PackDrawing, type PlaceView } from '../../ui/pack-drawing.ts';
import { sayFact } from '../say-act.ts';
import { faultPin } from './fault-pin.ts';
import { SourceForm } from './source-form.ts';
import { FactChoices } from './fact-choices.ts';
import { listFactRows } from './fact-rows.ts';

/** How the pack stands, stated by hand on the drawing or in the list. Every statement is kept, whatever the order. */
@Component({
  selector: 'app-physical-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, FactChoices, PackDrawing, SourceForm],
  templateUrl: './physical-stage.html',
  styleUrl: './physical-stage.less',
})
export class PhysicalStage {
  readonly stage = input.required<Stage>();

  protected readonly log = inject(JobLog);
  protected readonly selectedLink = signal(1);
  /** Module whose label was read last. */
  protected readonly selectedPlace = signal<number | null>(null);
  protected readonly say = sayFact;

  protected readonly rows = computed(() => {
    const state = this.log.state();
    const profile = this.log.profile();
    return state && profile ? listFactRows(state.pack, profile) : [];
  });
  protected readonly places = computed((): PlaceView[] => {
    const exposure = this.log.exposure();
    return this.log.records().map((r) => {
      const volt = exposure?.modules[r.place - 1];
      return {
        place: r.place,
        verdict: r.verdict === 'unknown' ? null : r.verdict,
        text: volt ? `${volt.isMeasured ? '' : '≤'}${volt.volt.toFixed(2)}` : '',
        deviation: null,
        deviationText: '',
        figureVerdict: 'unknown',
        isPending: false,
      };
    });
  });
  /** The act that lowers it most, where that is what comes next. */
  protected readonly lowering = computed(() => (this.log.next()?.stepId === null ? (this.log.exposure()?.next ?? null) : null));
  /** Where insulation was last found to leak, on the drawing. */
  protected readonly fault = computed(() => faultPin(this.log));
  protected readonly islandVolts = computed(() => {
    const volts: number[] = [];
    for (const { from, to, volt } of this.log.exposure()?.islands ?? []) for (let i = from; i <= to; i++) volts[i - 1] = volt;
    return volts;
  });
  protected readonly facts = computed(() => [...(this.log.state()?.facts ?? [])].reverse());
  protected readonly links = computed(() => {
    const profile = this.log.profile();
    const open = this.log.openBars();
    if (!profile) return [];
    const frameOf = new Map(profile.frames.flatMap((f) => f.links.map((k) => [k, f] as const)));
    return Array.from({ length: profile.moduleCount - 1 }, (_, i) => i + 1)
      .filter((k) => k !== profile.plug.opensLink)
      .map((link) => ({ link, isOpen: open.includes(link), frame: frameOf.get(link) ?? null }));
  });
  protected readonly chosenLink = computed(() => this.links().find((l) => l.link === this.selectedLink()) ?? null);

  constructor() {
    selectByLabel((moduleId) => {
      const at = this.log.moduleIds().indexOf(moduleId);
      if (at >= 0) this.selectedPlace.set(at + 1);
      return at >= 0;
    });
  }

  protected stateFact(fact: Fact): void {
    void this.log.stateFact(this.stage(), fact);
  }

  protected pickLink(link: number): void {
    const profile = this.log.profile();
    if (profile?.plug.opensLink === link) return;
    this.selectedLink.set(link);
  }

  protected step(by: number): void {
    const links = this.links();
    const at = links.findIndex((l) => l.link === this.selectedLink());
    const next = links[(at + by + links.length) % links.length];
    if (next) this.selectedLink.set(next.link);
  }

  protected toggleLink(link: number, isOpen: boolean): void {
    this.stateFact({ kind: 'links', links: [link], areOpen: !isOpen });
  }
}
