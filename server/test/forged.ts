/**
 * Acts without end by every person and device: true ones, and ones that are forged, changed, repeated, replayed elsewhere and out of
 * order. What stands in the log is held against a plain model of who may, which shares no code with the server.
 */
import { generateKeyPairSync, sign, type KeyObject } from 'node:crypto';
import { batchAnswerSchema, canonicalText, certificateSchema, type Certificate, type SentAct } from '@estuarine/contract';
import { createGenerator, shuffle, type Act, type Generator } from '@estuarine/core';
import type { FastifyInstance } from 'fastify';
import { readEvents } from '../src/log/store.ts';
import { nextId, openAct, PAPERS, send, SHOP, signIn, type TestDatabase } from './support.ts';

type Person = 'jf' | 'om' | 'ts';
const PEOPLE: readonly Person[] = ['jf', 'om', 'ts'];
const RANK: Record<Person, number> = { jf: 0, om: 1, ts: 2 };
const STRANGER = 'zz';

/** What may be said: the least rank; whether another may send it where it is signed, and may pass it on where it is not. */
const KINDS = [
  { type: 'fact.stated', least: 0, isSigned: true, isPassed: true },
  { type: 'wait.lengthened', least: 0, isSigned: true, isPassed: true },
  { type: 'shift.ended', least: 0, isSigned: true, isPassed: false },
  { type: 'act.withdrawn', least: 0, isSigned: true, isPassed: false },
  { type: 'policy.adopted', least: 1, isSigned: false, isPassed: false },
  { type: 'step.overridden', least: 2, isSigned: false, isPassed: false },
] as const;
type Kind = (typeof KINDS)[number];

/** What is done to the signature of an act, or to the act after it was signed. */
const FORGERIES = [
  'none',
  'true',
  'otherBody',
  'otherTime',
  'otherTurn',
  'otherJob',
  'otherKey',
  'otherPerson',
  'longerLife',
  'otherDevice',
  'tooEarly',
  'tooLate',
  'flippedBit',
] as const;
type Forgery = (typeof FORGERIES)[number];

interface Device {
  readonly id: string;
  readonly person: Person;
  readonly key: KeyObject;
  readonly certificate: Certificate;
  turn: number;
}

/** One sending: by whose session, in whose name, and whether the model says that the signature proves it. */
interface Sending {
  readonly sender: Person;
  readonly author: Person | typeof STRANGER;
  readonly kind: Kind;
  readonly isProven: boolean;
  readonly sent: SentAct;
  readonly jobId: string;
}

export interface ForgedCounts {
  readonly sent: number;
  /** Events in their author's name, and words passed on, in the log at the end. */
  readonly own: number;
  readonly passed: number;
  /** Words passed on that their author said after all. */
  readonly answered: number;
  readonly refused: number;
  readonly faults: readonly string[];
}

export class Forged {
  readonly #app: FastifyInstance;
  readonly #db: TestDatabase;
  readonly #random: Generator;
  readonly #jobs: readonly string[];
  readonly #cookies = new Map<Person, string>();
  readonly #devices: Device[] = [];
  /** Commands by job: whose they are, so that they are taken back by anybody. */
  readonly #commands: string[] = [];
  readonly #sendings: Sending[] = [];
  readonly #faults: string[] = [];
  #refused = 0;

  constructor(app: FastifyInstance, db: TestDatabase, seed: number) {
    this.#app = app;
    this.#db = db;
    this.#random = createGenerator(seed);
    this.#jobs = [1, 2, 3].map((n) => `forged-${seed}-${n}`);
  }

  async run(count: number): Promise<ForgedCounts> {
    await this.#begin();
    while (this.#sendings.length < count) await this.#sendSome();
    const [own, passed, answered] = await this.#holdLog();
    return { sent: this.#sendings.length, own, passed, answered, refused: this.#refused, faults: this.#faults };
  }

  async #begin(): Promise<void> {
    for (const person of PEOPLE) {
      const cookie = await signIn(this.#app, person);
      this.#cookies.set(person, cookie);
      for (const n of [1, 2]) {
        const id = `${person}-${n}`;
        const { privateKey, publicKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
        const key = publicKey.export({ format: 'der', type: 'spki' }).toString('base64url');
        const answer = await this.#app.inject({
          method: 'POST',
          url: '/api/session/key',
          headers: { cookie },
          payload: { device: id, key },
        });
        this.#devices.push({ id, person, key: privateKey, certificate: certificateSchema.parse(answer.json()), turn: 0 });
      }
    }
    for (const jobId of this.#jobs) await this.#post('om', jobId, [{ ...send(openAct(jobId), 'om'), papers: PAPERS }]);
  }

  #pick<T>(list: readonly T[]): T {
    return list[this.#random.below(list.length)] as T;
  }

  #actOf({ type }: Kind): Act {
    const isIn = this.#random.below(2) === 1;
    switch (type) {
      case 'fact.stated':
        return { type, body: { stage: 'isolate', fact: { kind: 'plug', isIn } } };
      case 'wait.lengthened':
        return { type, body: { minute: 1 + this.#random.below(5), reason: 'a cold morning' } };
      case 'shift.ended':
        return { type, body: {} };
      case 'act.withdrawn':
        return { type, body: { commandId: this.#commands.length > 0 ? this.#pick(this.#commands) : 'none', reason: 'mistyped' } };
      case 'policy.adopted':
        return { type, body: { policyVersion: 1 } };
      case 'step.overridden':
        return { type, body: { stepId: 'gloves', reason: 'none fit' } };
    }
  }

  /** A few acts in one batch of one session, some of them sent before. */
  async #sendSome(): Promise<void> {
    const sender = this.#pick(PEOPLE);
    const jobId = this.#pick(this.#jobs);
    const some: Sending[] = [];
    for (let n = 1 + this.#random.below(8); n > 0; n--) {
      // what was sent lately, by whomever: most often it is whose name it was in that sends it now
      const lately = this.#sendings.slice(-80).filter((s) => s.jobId === jobId && (s.author === sender || this.#random.below(3) === 0));
      some.push(lately.length > 0 && this.#random.below(4) === 0 ? { ...this.#pick(lately), sender } : this.#make(sender, jobId));
    }
    const order = shuffle(some, this.#random);
    const outcomes = await this.#post(
      sender,
      jobId,
      order.map((s) => s.sent),
    );
    for (const [i, { kind, problem }] of outcomes.entries()) {
      const sending = order[i] as Sending;
      this.#sendings.push(sending);
      if (kind === 'refused') this.#refused++;
      this.#holdOutcome(sending, kind, problem?.status ?? 200, problem?.detail ?? '');
    }
  }

  async #post(sender: Person, jobId: string, acts: readonly unknown[]) {
    const answer = await this.#app.inject({
      ...{ method: 'POST', url: `/api/jobs/${jobId}/batches`, payload: { acts } },
      headers: { cookie: this.#cookies.get(sender) ?? '' },
    });
    if (answer.statusCode !== 200) throw new Error(answer.body);
    return batchAnswerSchema.parse(answer.json()).outcomes.map((o) => ({ problem: null, ...o }));
  }

  #make(sender: Person, jobId: string): Sending {
    const kind = this.#pick(KINDS);
    const author = this.#random.below(20) === 0 ? STRANGER : this.#pick(PEOPLE);
    const { device: _, ...bare } = send(this.#actOf(kind), author);
    // an id that somebody used before, for another act
    const commandId = this.#commands.length > 0 && this.#random.below(25) === 0 ? this.#pick(this.#commands) : nextId();
    const { sent, isProven } = this.#sign(author, jobId, { ...bare, commandId });
    this.#commands.push(commandId);
    return { sender, author, kind, isProven, sent, jobId };
  }

  /** The act with its signature as the forgery has it, and whether the model says that it proves its author. */
  #sign(author: string, jobId: string, bare: Omit<SentAct, 'device' | 'signature'>): { sent: SentAct; isProven: boolean } {
    const forgery: Forgery = this.#random.below(2) === 0 ? 'true' : this.#pick(FORGERIES);
    const own = this.#devices.filter((d) => d.person === author);
    const [device, other] = [own[0] ?? (this.#devices[0] as Device), this.#pick(this.#devices.filter((d) => d.person !== author))];
    const act: SentAct = { ...bare, device: { id: device.id, isClockSure: true, turn: ++device.turn } };
    if (forgery === 'none') return { sent: act, isProven: false };
    const at = Date.parse(act.deviceAt);
    const { certificate } = device;
    const said: SentAct =
      forgery === 'tooEarly'
        ? { ...act, deviceAt: new Date(Date.parse(certificate.from) - 60_000).toISOString() }
        : forgery === 'tooLate'
          ? { ...act, deviceAt: new Date(Date.parse(certificate.until) + 60_000).toISOString() }
          : act;
    const text = canonicalText({ jobId: forgery === 'otherJob' ? 'elsewhere' : jobId, ...said });
    const value = sign('sha256', Buffer.from(text), { key: forgery === 'otherKey' ? other.key : device.key, dsaEncoding: 'ieee-p1363' });
    if (forgery === 'flippedBit') value.writeUInt8(value.readUInt8(9) ^ 4, 9);
    const signature = { certificate, value: value.toString('base64url') };
    const signed = { ...said, signature };
    switch (forgery) {
      case 'otherBody':
        return { sent: { ...signed, version: 1, act: { type: 'wait.lengthened', body: { minute: 9, reason: 'not what was signed' } } }, isProven: false }; // prettier-ignore
      case 'otherTime':
        return { sent: { ...signed, deviceAt: new Date(at - 1000).toISOString() }, isProven: false };
      case 'otherTurn':
        return { sent: { ...signed, device: { id: device.id, isClockSure: true, turn: 9999 } }, isProven: false };
      case 'otherDevice':
        return { sent: { ...signed, device: { id: 'elsewhere', isClockSure: true, turn: 1 } }, isProven: false };
      case 'otherPerson':
        return { sent: { ...signed, signature: { ...signature, certificate: { ...other.certificate, person: author } } }, isProven: false };
      case 'longerLife':
        return { sent: { ...signed, signature: { ...signature, certificate: { ...certificate, until: '2999-01-01T00:00:00.000Z' } } }, isProven: false }; // prettier-ignore
      default:
        return { sent: signed, isProven: forgery === 'true' && certificate.person === author };
    }
  }

  /** What the body says it is: a forger may have put another act under the signature. */
  #kindOf({ sent }: Sending): Kind {
    return KINDS.find((k) => k.type === sent.act.type) as Kind;
  }

  /** Whether the sending may stand in its author's name, and whether it may stand as heard. */
  #may(sending: Sending): { readonly asOwn: boolean; readonly asHeard: boolean } {
    const { sender, author, isProven } = sending;
    const kind = this.#kindOf(sending);
    if (author === STRANGER) return { asOwn: false, asHeard: false };
    if (sender === author) return { asOwn: RANK[author] >= kind.least, asHeard: false };
    return { asOwn: kind.isSigned && isProven, asHeard: kind.isPassed && !isProven };
  }

  #holdOutcome(sending: Sending, outcome: string, status: number, detail: string): void {
    const { asOwn, asHeard } = this.#may(sending);
    const { sender, author, sent } = sending;
    const what = `${sent.act.type} ${sent.commandId} of ${author} by ${sender}, proven ${sending.isProven}`;
    if (status >= 500) this.#faults.push(`${what}: ${status} ${detail}`);
    const wasBefore = this.#sendings.some((s) => s !== sending && s.sent.commandId === sent.commandId);
    if (outcome === 'kept' && !asOwn && !asHeard && !wasBefore) this.#faults.push(`${what}: kept`);
    // what nobody could object to is kept
    const isPlain = sent.act.type === 'fact.stated' || sent.act.type === 'wait.lengthened';
    if (outcome !== 'kept' && isPlain && (asOwn || asHeard) && !wasBefore) this.#faults.push(`${what}: refused, ${status} ${detail}`);
  }

  /** Every event of the log has a sending that gives it the right to stand as it does, and says what was sent. */
  async #holdLog(): Promise<[number, number, number]> {
    let [own, passed, answered] = [0, 0, 0];
    for (const jobId of this.#jobs) {
      const sendings = this.#sendings.filter((s) => s.jobId === jobId);
      const seen = new Set<string>();
      for (const event of await readEvents(this.#db.pool, SHOP, jobId, 0, 1_000_000)) {
        if (event.type === 'job.opened') continue;
        const isHeard = event.type === 'word.passed';
        const said = isHeard
          ? (event.body as { readonly of: string; readonly said: { readonly type: string; readonly body: unknown } })
          : null;
        const rights = sendings.filter((s) => {
          if (s.sent.commandId !== event.commandId) return false;
          const may = this.#may(s);
          if (said) return may.asHeard && s.sender === event.by && s.author === said.of && isSame(s.sent.act, said.said);
          const forwarder = s.sender === s.author ? undefined : s.sender;
          return may.asOwn && s.author === event.by && forwarder === event.forwardedBy && isSame(s.sent.act, event);
        });
        if (rights.length === 0) this.#faults.push(`${jobId} ${event.number}: ${event.type} of ${event.by} stands without a right to`);
        const once = `${event.commandId} ${isHeard ? 'heard' : 'own'} ${event.type}`;
        if (seen.has(once)) this.#faults.push(`${jobId} ${event.number}: ${once} stands twice`);
        seen.add(once);
        if (isHeard) passed++;
        else own++;
        if (!isHeard && [...seen].some((s) => s.startsWith(`${event.commandId} heard`))) answered++;
      }
      this.#holdTrueWords(sendings, seen, jobId);
    }
    return [own, passed, answered];
  }

  /** A plain word that its author said, or that was proven, stands in the author's name, whatever was heard under its id before. */
  #holdTrueWords(sendings: readonly Sending[], seen: ReadonlySet<string>, jobId: string): void {
    // two true acts under one id: the first stands
    const truths = new Map(
      this.#sendings.filter((s) => this.#may(s).asOwn).map((s) => [s.jobId + JSON.stringify(withoutProof(s.sent)), s]),
    );
    const ids = new Map<string, number>();
    for (const { sent } of truths.values()) ids.set(sent.commandId, (ids.get(sent.commandId) ?? 0) + 1);
    for (const sending of sendings) {
      const { commandId, act } = sending.sent;
      const isPlain = act.type === 'fact.stated' || act.type === 'wait.lengthened';
      if (isPlain && this.#may(sending).asOwn && ids.get(commandId) === 1 && !seen.has(`${commandId} own ${act.type}`))
        this.#faults.push(`${jobId}: ${act.type} ${commandId} of ${sending.author} is missing`);
    }
  }
}

function withoutProof({ signature: _, ...act }: SentAct): object {
  return act;
}

/** What stands is what was sent; what an act means besides is of another type and stands beside it. */
function isSame(sent: SentAct['act'], kept: { readonly type: string; readonly body: unknown }): boolean {
  return sent.type === kept.type && canonicalText(sent.body) === canonicalText(kept.body);
}
