import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { doneSchema, type PeopleAnswer, peopleAnswerSchema, type Person } from '@estuarine/contract';
import { ROLES, whyNotSign, type Role, type ShopAct } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api, type Reply } from '../transport/api.ts';
import { Session } from '../session/session.ts';
import { ShopDesk } from '../stock/shop-desk.ts';
import { ListPage, type ListState } from '../ui/list-page.ts';
import { Notice } from '../ui/notice.ts';

/** The people of the shop: roles, training and until when it counts, and one's own passphrase and PIN. */
@Component({
  selector: 'app-people-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, ListPage, Notice],
  templateUrl: './people-page.html',
  styleUrl: './people-page.less',
})
export class PeoplePage {
  readonly #api = inject(Api);
  readonly #desk = inject(ShopDesk);
  protected readonly session = inject(Session);

  protected readonly answer = signal<PeopleAnswer | null>(null);
  protected readonly state = signal<ListState>('loading');
  protected readonly fault = signal<string | null>(null);
  protected readonly told = signal<string | null>(null);
  protected readonly openId = signal<string | null>(null);

  protected readonly roles = ROLES;
  protected readonly isLead = computed(() => this.session.person()?.role === 'lead');
  protected readonly rows = computed(() => {
    const { persons = [], competences = [], today = '' } = this.answer() ?? {};
    return persons.map((person) => {
      const own = competences.filter((c) => c.personId === person.id);
      return { person, competences: own, whyNot: whyNotSign(person.role, own, today) };
    });
  });

  /** The list on its way; a press rests on what comes of it, so that nobody's own last act stands in the way of the next. */
  #loaded: Promise<void> = Promise.resolve();

  constructor() {
    void this.load();
  }

  protected load(): Promise<void> {
    return (this.#loaded = this.#load());
  }

  async #load(): Promise<void> {
    const reply = await this.#api.get('/api/people', peopleAnswerSchema);
    if (reply.kind === 'answer') this.answer.set(reply.value);
    this.state.set(reply.kind === 'answer' ? 'fresh' : this.answer() ? 'seen' : 'failed');
  }

  protected async act(act: ShopAct, done: string): Promise<void> {
    await this.#loaded;
    const fault = await this.#desk.act(act, this.answer()?.position);
    // what somebody else changed meanwhile is shown, for the next press to rest on
    if (fault !== null) await this.load();
    this.#settle(fault, done);
  }

  protected setRole(person: Person, role: string): Promise<void> {
    return this.act({ type: 'person.role', body: { personId: person.id, role: role as Role } }, `${person.name} is ${role} now.`);
  }

  protected recordTraining(person: Person, form: HTMLFormElement): Promise<void> {
    const { training, givenBy, validUntil } = textsOf(form);
    return this.act(
      {
        type: 'competence.recorded',
        body: { personId: person.id, kind: 'highVoltage', training: training ?? '', givenBy: givenBy ?? '', validUntil: validUntil ?? '' },
      },
      'The training is on record.',
    );
  }

  protected async addPerson(form: HTMLFormElement): Promise<void> {
    const { personId = '', name, role, passphrase } = textsOf(form);
    const reply = await this.#api.post('/api/people', doneSchema, { personId: personId.toLowerCase(), name, role, passphrase });
    if (this.#settle(sayReply(reply), `${name ?? ''} can sign in now.`)) form.reset();
  }

  protected async givePassphrase(person: Person, form: HTMLFormElement): Promise<void> {
    const reply = await this.#api.post(`/api/people/${person.id}/passphrase`, doneSchema, textsOf(form));
    if (this.#settle(sayReply(reply), 'The new passphrase counts; every other device of theirs is signed out.')) form.reset();
  }

  protected async setPin(form: HTMLFormElement): Promise<void> {
    const reply = await this.#api.post('/api/people/me/pin', doneSchema, textsOf(form));
    if (this.#settle(sayReply(reply), 'The PIN opens a locked screen on a device where somebody has signed in.')) form.reset();
  }

  #settle(fault: string | null, done: string): boolean {
    this.fault.set(fault);
    this.told.set(fault === null ? done : null);
    if (fault === null) void this.load();
    return fault === null;
  }
}

function textsOf(form: HTMLFormElement): Record<string, string | undefined> {
  return Object.fromEntries([...new FormData(form)].map(([key, value]) => [key, typeof value === 'string' ? value.trim() : '']));
}

function sayReply(reply: Reply<unknown>): string | null {
  if (reply.kind === 'problem') return reply.problem.detail;
  return reply.kind === 'answer' ? null : 'The server cannot be reached. Nothing was kept.';
}
