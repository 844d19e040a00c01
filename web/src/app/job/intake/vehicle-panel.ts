import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { memoriesAnswerSchema, type MemoriesAnswer } from '@estuarine/contract';
import {
  asksScanAsFound,
  JOB_KIND_NAMES,
  localTime,
  VEHICLE_USE_NAMES,
  VEHICLE_USES,
  type UseNote,
  type VehicleUse,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { Link } from '../../transport/link.ts';
import { TextField } from '../../ui/text-field.ts';

const NOTHING: UseNote = { uses: [], lookedUp: '', noScan: '' };

/** The vehicle, its customer's words and how it is used: written and corrected at any time, with what intake still asks. */
@Component({
  selector: 'app-vehicle-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, FormsModule, NzButtonModule, RouterLink, TextField],
  templateUrl: './vehicle-panel.html',
  styleUrls: ['../two-panes.less', './vehicle-panel.less'],
})
export class VehiclePanel {
  protected readonly log = inject(JobLog);
  readonly #known = inject(KnownAnswers);
  readonly #link = inject(Link);

  protected readonly kinds = JOB_KIND_NAMES;
  protected readonly uses = VEHICLE_USES.map((id) => ({ id, name: VEHICLE_USE_NAMES[id] }));
  protected readonly papers = this.log.papers;

  protected readonly isCorrecting = signal(false);
  protected readonly name = signal('');
  protected readonly plate = signal('');
  protected readonly odometer = signal('');
  protected readonly customerName = signal('');
  protected readonly contact = signal('');
  protected readonly note = signal('');
  protected readonly nameFault = computed(() => (this.name().trim() === '' ? 'Say which vehicle it is.' : ''));
  protected readonly odometerFault = computed(() =>
    /^\d{0,7}$/.test(this.odometer().trim()) && Number(this.odometer()) <= 5_000_000 ? '' : 'Whole kilometres, digits only, up to 5000000.',
  );
  protected readonly odometerWords = computed(() => {
    const kilometre = this.papers().vehicle?.odometerKilometre ?? null;
    return kilometre === null ? 'not noted' : `${kilometre} km`;
  });
  protected readonly canCorrect = computed(() => this.log.closed() === null && this.papers().vehicle !== null);

  /** Said here and not stored yet: whatever else comes in meanwhile, the next press builds on it. */
  readonly #saying = signal<UseNote | null>(null);
  protected readonly noted = computed((): UseNote | null => this.#saying() ?? this.log.state()?.intake.use ?? null);
  // each by way of its value: the note is a new object with every act that comes in, and what is being typed meanwhile stays
  protected readonly lookedUp = linkedSignal(computed(() => this.noted()?.lookedUp ?? ''));
  protected readonly noScan = linkedSignal(computed(() => this.noted()?.noScan ?? ''));
  readonly #asFound = computed(() => this.log.state()?.refit.scanned.findLast((s) => s.moment === 'asFound') ?? null);
  protected readonly isScanned = computed(() => this.#asFound() !== null);
  protected readonly asksScan = computed(() => {
    const kind = this.log.state()?.intake.opened?.kind;
    return kind !== undefined && asksScanAsFound(kind);
  });
  protected readonly codes = computed(() => {
    const own = this.log.profile()?.scan?.codes ?? [];
    return (
      this.#asFound()?.codes.map(({ code }) => {
        const plan = own.find((o) => o.code === code);
        return { code, text: plan?.text ?? 'not in the profile', first: plan?.first ?? '' };
      }) ?? null
    );
  });
  protected readonly asks = computed(() => {
    const { vehicle } = this.papers();
    const seen = this.log.state()?.finding;
    const photos = seen?.photos.filter((p) => !p.erased && p.stage === 'intake').length ?? 0;
    return [
      { text: 'How it is used', isMet: this.noted() !== null, part: null },
      ...(this.asksScan()
        ? [{ text: 'Scanned as it came, or why not', isMet: this.isScanned() || (this.noted()?.noScan ?? '') !== '', part: 'scan' }]
        : []),
      {
        text: `What the customer says${(vehicle?.note ?? '') === '' ? ', if anything' : ''}`,
        isMet: (vehicle?.note ?? '') !== '',
        part: null,
      },
      { text: 'What an earlier hand left', isMet: seen?.findings.some((f) => f.isOnArrival) ?? false, part: 'findings' },
      { text: 'Photographs as it came', isMet: photos > 0, part: 'photos' },
    ];
  });

  readonly #memories = signal<MemoriesAnswer['memories']>([]);
  /** Of earlier jobs on this vehicle: the warranty follows it, whoever owns it. */
  protected readonly warranties = computed(() => {
    const own = this.log.state()?.intake.opened?.number ?? 0;
    const today = localTime(this.#link.serverNow(), this.log.policy().isolation.timeZone).date;
    return this.#memories().flatMap((m) =>
      m.isSameVehicle && m.number !== own && m.warranty && m.warranty.until >= today ? [{ number: m.number, ...m.warranty }] : [],
    );
  });

  constructor() {
    effect(() => {
      const [profile, jobId] = [this.log.profile(), this.log.jobId()];
      if (!profile) return;
      const path = `/api/profiles/${profile.id}/memory?job=${encodeURIComponent(jobId)}`;
      untracked(() => void this.#known.ask(path, memoriesAnswerSchema).then(({ value }) => this.#memories.set(value?.memories ?? [])));
    });
  }

  protected has(use: VehicleUse): boolean {
    return this.noted()?.uses.includes(use) ?? false;
  }

  protected toggle(use: VehicleUse): void {
    const uses = this.noted()?.uses ?? [];
    void this.sayUse({ uses: this.has(use) ? uses.filter((u) => u !== use) : [...uses, use] });
  }

  /** What stands, with a part of it said anew. */
  protected async sayUse(change: Partial<UseNote>): Promise<void> {
    const { uses, lookedUp, noScan } = { ...NOTHING, ...this.noted(), ...change };
    const said = { uses, lookedUp, noScan };
    this.#saying.set(said);
    await this.log.act({ type: 'use.noted', body: { uses: [...uses], lookedUp, noScan } });
    if (this.#saying() === said) this.#saying.set(null);
  }

  protected correct(): void {
    const { vehicle, customer } = this.papers();
    if (!vehicle) return;
    this.name.set(vehicle.name);
    this.plate.set(vehicle.plate);
    this.odometer.set(vehicle.odometerKilometre === null ? '' : String(vehicle.odometerKilometre));
    this.note.set(vehicle.note);
    this.customerName.set(customer?.name ?? '');
    this.contact.set(customer?.contact ?? '');
    this.isCorrecting.set(true);
  }

  protected async keep(): Promise<void> {
    if (this.nameFault() !== '' || this.odometerFault() !== '') return;
    const odometer = this.odometer().trim();
    const customerName = this.customerName().trim();
    const vehicle = {
      ...{ name: this.name().trim(), plate: this.plate().trim(), note: this.note().trim() },
      odometerKilometre: odometer === '' ? null : Number(odometer),
    };
    const customer = customerName === '' ? null : { name: customerName, contact: this.contact().trim() };
    if ((await this.log.correctPapers({ vehicle, customer })) !== null) this.isCorrecting.set(false);
  }
}
