import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import {
  AIR_CHECK_NAMES,
  AIR_WORD_EFFECTS,
  AIR_WORD_NAMES,
  airWordsOf,
  CLEANING_SCHOOLS,
  compareDamage,
  findCoolEffect,
  findCooling,
  readDecimal,
  showTorque,
  USUAL_BASIS,
  type AirCheck,
  type AirPart,
  type AirWord,
  type CleaningSchool,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Plot, type PlotLine } from '../../ui/plot.ts';
import { TextField } from '../../ui/text-field.ts';
import { YesNoRows } from '../../ui/yes-no-rows.ts';
import { PhotoRows, type PhotoRow } from '../finding/photo-rows.ts';
import { AirMeasured } from './air-measured.ts';
import { CLEANINGS } from './cleaning.ts';
import { DirtCards } from './dirt-cards.ts';
import { FanCurve } from './fan-curve.ts';
import { FanForm } from './fan-form.ts';
import { FlowDrawing } from './flow-drawing.ts';
import { HeatStrip } from './heat-strip.ts';
import { NextLook } from './next-look.ts';

/** What the air met on its way, what that did to the modules, and when to look again. */
@Component({
  selector: 'app-cool-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    AirMeasured,
    DirtCards,
    FanCurve,
    FanForm,
    FlowDrawing,
    HeatStrip,
    NextLook,
    NzButtonModule,
    PhotoRows,
    Plot,
    TextField,
    YesNoRows,
  ],
  templateUrl: './cool-stage.html',
  styleUrls: ['../two-panes.less', './cool-stage.less'],
})
export class CoolStage {
  protected readonly log = inject(JobLog);
  protected readonly schools = CLEANING_SCHOOLS.map((id) => ({ id, ...CLEANINGS[id] }));
  protected readonly cleanings = CLEANINGS;
  protected readonly words = AIR_WORD_NAMES;
  protected readonly wordEffects = AIR_WORD_EFFECTS;
  protected readonly wordsOf = airWordsOf;

  protected readonly cooling = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? findCooling(state, profile) : null;
  });
  protected readonly checks = computed(() => (this.cooling()?.checks ?? []).map((c) => ({ ...c, name: AIR_CHECK_NAMES[c.check] })));
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
    const cool = this.log.state()?.cool;
    return cooling && profile && cool ? findCoolEffect(cooling, cool, profile) : null;
  });
  protected readonly basis = USUAL_BASIS;
  protected readonly freeFlow = computed(() => 2 * (this.log.profile()?.cooling.cleanCubicMetrePerHour ?? 0));
  /** What the profile says of the part before it comes out. */
  protected readonly plan = computed(() => this.log.profile()?.airPath[this.partIndex()] ?? null);
  /** The fan sits beside live parts, the pack is in the car, and nothing proves it dead. */
  protected readonly isProofWanted = computed(() => {
    const [profile, state] = [this.log.profile(), this.log.state()];
    if (!profile?.cooling.fanNeedsDead || !state || state.pack.isOnBench) return false;
    return this.log.isolation()?.standing == null;
  });
  /** What else sits on the air that left the modules. */
  protected readonly behind = computed(() => {
    const path = this.log.profile()?.airPath ?? [];
    const cells = path.findIndex((p) => p.kind === 'cells');
    return path.filter((p, i) => i > cells && (p.kind === 'converter' || p.kind === 'inverter')).map((p) => p.name);
  });
  /** Torque of the fan's own fasteners and of its strap, as the profile has them. */
  protected readonly fanTorque = computed(() =>
    (this.log.profile()?.parts ?? [])
      .filter((p) => p.torque !== null && /\b(fan|strap)\b/.test(p.id.replaceAll('-', ' ')))
      .map((p) => `${p.name} ${showTorque(p.torque?.newtonMetre ?? 0)}`)
      .join(', '),
  );
  /** A photograph of the part as it came, and its pair afterwards. */
  protected readonly photos = computed((): PhotoRow[] => {
    const [part, state] = [this.part(), this.log.state()];
    if (!part || !state) return [];
    const place = `air-${part.part + 1}`;
    const shown = state.finding.photos.filter((p) => p.place === place && !p.erased);
    const before = shown.filter((p) => p.pairOf === null);
    const pairOf = before.at(-1)?.photoId ?? null;
    const isAfter = pairOf !== null && (part.cleaned !== null || part.after !== null);
    return [
      {
        ...{ key: place, name: isAfter ? 'before and after' : 'as it came', photoIds: shown.map((p) => p.photoId) },
        ...{ word: isAfter ? 'Photograph after' : shown.length > 0 ? 'One more' : 'Photograph' },
        next: { caption: part.name, place, pairOf: isAfter ? pairOf : null },
      },
    ];
  });
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

  protected tell(part: AirPart, word: AirWord): void {
    void this.log.act({ type: 'air.told', body: { part: part.part, word } });
  }

  protected check(said: { readonly check: AirCheck; readonly isGood: boolean }): void {
    void this.log.act({ type: 'air.checked', body: said });
  }

  protected clean(part: AirPart, school: CleaningSchool): void {
    void this.log.act({ type: 'air.cleaned', body: { part: part.part, school, note: '' } });
  }

  protected judge(isAnswered: boolean): void {
    void this.log.act({ type: 'cooling.judged', body: { isAnswered, note: '' } });
  }
}
