import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { ShopAct } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { ShopDesk } from '../../stock/shop-desk.ts';
import { TextField } from '../../ui/text-field.ts';

/** The lead erases for good what is written of a vehicle or a customer; the job goes on without it. */
@Component({
  selector: 'app-paper-erasing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  template: `
    <details>
      <summary>Erase names for good</summary>
      <app-text-field label="Who asked for it, and why" [most]="120" [(value)]="reason" />
      @if (papers().vehicle || papers().corrected.vehicle) {
        <button nz-button type="button" [disabled]="reason().trim() === ''" (click)="eraseVehicle()">Erase vehicle and plate</button>
      }
      @if (papers().customer || papers().corrected.customer) {
        <button nz-button type="button" [disabled]="reason().trim() === ''" (click)="eraseCustomer()">Erase the customer</button>
      }
      @if (isNothingWritten()) {
        <p class="muted">Nothing is written of them any more.</p>
      }
      @if (fault(); as reason) {
        <p role="alert">{{ reason }}</p>
      }
    </details>
  `,
  styles: `
    :host {
      display: block;
      margin-top: 16px;
    }
    summary {
      min-height: 44px;
      display: flex;
      align-items: center;
      cursor: pointer;
    }
    details[open] {
      display: grid;
      gap: 8px;
      justify-items: start;
    }
  `,
})
export class PaperErasing {
  readonly #log = inject(JobLog);
  readonly #desk = inject(ShopDesk);

  protected readonly reason = signal('');
  protected readonly fault = signal<string | null>(null);
  protected readonly papers = this.#log.papers;
  protected readonly isNothingWritten = computed(() => {
    const { vehicle, customer, corrected } = this.papers();
    return !vehicle && !customer && !corrected.vehicle && !corrected.customer;
  });
  readonly #opened = computed(() => this.#log.kept()?.state.intake.opened ?? null);

  protected eraseVehicle(): void {
    const opened = this.#opened();
    if (opened)
      void this.#erase(
        [opened.vehicle.id, ...this.#before('vehicles')].map((vehicleId): ShopAct => ({
          type: 'vehicle.erased',
          body: { vehicleId, reason: this.reason().trim() },
        })),
      );
  }

  protected eraseCustomer(): void {
    const customer = this.#opened()?.customer;
    const ids = [...(customer ? [customer.id] : []), ...this.#before('customers')];
    void this.#erase(ids.map((customerId): ShopAct => ({ type: 'customer.erased', body: { customerId, reason: this.reason().trim() } })));
  }

  /** What was corrected since is erased with what stands. */
  #before(of: 'vehicles' | 'customers'): readonly string[] {
    return this.#log.kept()?.state.intake.before[of] ?? [];
  }

  async #erase(acts: readonly ShopAct[]): Promise<void> {
    // the reason stays: whoever asks for one is often named in the other as well
    for (const act of acts) {
      const fault = await this.#desk.act(act);
      this.fault.set(fault);
      if (fault !== null) return;
    }
  }
}
