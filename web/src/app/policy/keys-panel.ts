import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { keyBackupSchema, keyRestoredSchema, keysAnswerSchema, sayFingerprint, type KeysAnswer } from '@estuarine/contract';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type * as z from 'zod';
import { Api } from '../transport/api.ts';
import { TextField } from '../ui/text-field.ts';

const LEAST_PASSPHRASE = 12;
const LEAST_REASON = 8;

/** The keys that seal records: published, backed up, replaced, revoked. For the lead. */
@Component({
  selector: 'app-keys-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, TextField],
  template: `
    <section aria-label="Keys that seal records">
      <h2>Keys that seal records</h2>
      <p class="measure">
        Print the fingerprint on invoices and read it aloud to whoever asks: with it and
        <a href="/api/seal/check.html" download>the checking page</a> anybody can tell a true record from a forged one.
      </p>
      <ul>
        @for (key of answer()?.keys ?? []; track key.fingerprint) {
          <li>
            <b class="figure">{{ say(key.fingerprint) }}</b>
            <span>
              begun {{ key.madeAt | date: 'd MMM y' }}{{ key.retiredAt ? ', replaced' : key.revokedAt ? '' : ', signs now' }}
              @if (key.revokedAt) {
                , revoked {{ key.revokedAt | date: 'd MMM y, HH:mm' }}: {{ key.reason }}
              }
            </span>
            @if (!key.revokedAt) {
              <button nz-button nzDanger type="button" [disabled]="reason().trim().length < leastReason" (click)="revoke(key.fingerprint)">
                Revoke
              </button>
            }
          </li>
        } @empty {
          <li class="muted">{{ answer() ? 'None was made yet.' : 'The keys cannot be read: the server is away.' }}</li>
        }
      </ul>
      @if (answer()?.canSign === false) {
        <p class="fault" role="alert">
          This machine cannot sign: its secret is another than the one the key was kept under. Put the backup of the key back, or begin a
          new key.
        </p>
      }
      <div class="fields">
        <app-text-field label="Why a key is revoked, eight letters or more" [most]="400" [(value)]="reason" />
        <button nz-button type="button" [disabled]="!signing()" (click)="rotate()">Begin a new key</button>
      </div>
      <div class="fields">
        <app-text-field label="Passphrase of the backup, twelve letters or more" kind="password" [most]="200" [(value)]="passphrase" />
        <button nz-button type="button" [disabled]="passphrase().length < leastPassphrase" (click)="backUp()">Back the key up</button>
        <label class="button is-quiet">
          Put a backup back
          <input #file type="file" accept=".pem,application/x-pem-file,text/plain" class="visually-hidden" (change)="restore(file)" />
        </label>
      </div>
      @if (said()) {
        <p role="status">{{ said() }}</p>
      }
      @if (fault()) {
        <p class="fault" role="alert">{{ fault() }}</p>
      }
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 8px;
      margin-top: 32px;
    }
    ul {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      align-items: center;
      min-height: 44px;
      overflow-wrap: anywhere;
    }
    .fields {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: end;
    }
    .fields button,
    .button {
      min-height: 44px;
    }
    .fault {
      margin: 0;
      color: var(--madder);
    }
  `,
})
export class KeysPanel {
  readonly #api = inject(Api);
  protected readonly leastPassphrase = LEAST_PASSPHRASE;
  protected readonly leastReason = LEAST_REASON;
  protected readonly say = sayFingerprint;
  protected readonly answer = signal<KeysAnswer | null>(null);
  protected readonly reason = signal('');
  protected readonly passphrase = signal('');
  protected readonly fault = signal('');
  protected readonly said = signal('');
  protected readonly signing = computed(() => this.answer()?.keys.find((k) => k.retiredAt === null && k.revokedAt === null) ?? null);

  constructor() {
    void this.#load();
  }

  protected async rotate(): Promise<void> {
    const answer = await this.#ask('/api/seal/keys', keysAnswerSchema, { replaces: this.signing()?.fingerprint ?? '' });
    if (answer) this.answer.set(answer);
    this.said.set(answer ? 'A new key signs from now on. What the old one signed stands. Back the new one up.' : '');
  }

  protected async revoke(fingerprint: string): Promise<void> {
    const answer = await this.#ask(`/api/seal/keys/${fingerprint}/revoke`, keysAnswerSchema, { reason: this.reason().trim() });
    if (answer) this.answer.set(answer);
    this.said.set(answer ? 'Revoked. Hand out the checking page anew: copies that are out do not know of it.' : '');
    if (answer) this.reason.set('');
  }

  protected async backUp(): Promise<void> {
    const backup = await this.#ask('/api/seal/backup', keyBackupSchema, { passphrase: this.passphrase() });
    this.said.set(backup ? 'Keep the file away from this machine, and the passphrase away from the file.' : '');
    if (!backup) return;
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([backup.pem], { type: 'application/x-pem-file' }));
    link.download = `seal-key-${this.signing()?.fingerprint.slice(0, 8) ?? 'shop'}.pem`;
    link.click();
    URL.revokeObjectURL(link.href);
    this.passphrase.set('');
  }

  protected async restore(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    const restored = await this.#ask('/api/seal/restore', keyRestoredSchema, { pem: await file.text(), passphrase: this.passphrase() });
    this.said.set(restored ? `The key ${sayFingerprint(restored.fingerprint).slice(0, 19)} … is back.` : '');
    await this.#load();
  }

  async #load(): Promise<void> {
    const reply = await this.#api.get('/api/seal/keys', keysAnswerSchema);
    if (reply.kind === 'answer') this.answer.set(reply.value);
  }

  async #ask<S extends z.ZodType>(path: string, schema: S, body: unknown): Promise<z.output<S> | null> {
    const reply = await this.#api.post(path, schema, body);
    this.fault.set(
      reply.kind === 'answer' ? '' : reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Nothing was changed.',
    );
    return reply.kind === 'answer' ? reply.value : null;
  }
}
