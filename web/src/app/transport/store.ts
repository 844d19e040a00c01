import { Injectable } from '@angular/core';
import type { Certificate, ErasedAnswer, KeptAct, Problem, SentAct } from '@estuarine/contract';
import { FOLD_VERSION, type JobState, type Policy, type Profile } from '@estuarine/core';
import { openDB, type DBSchema, type IDBPDatabase, type IDBPTransaction, type StoreNames } from 'idb';
import { v7 as uuid } from 'uuid';

/** An act on its way. It leaves when the server has kept it, or a person has seen its refusal. */
export interface WaitingAct {
  /** Order on this device. */
  readonly seq: number;
  readonly jobId: string;
  readonly sent: SentAct;
  /** Why it was not taken; one of status 500 or above was set aside and is offered again. */
  readonly refused: Problem | null;
}

/** An act that the server has kept. It stays on the device for a while: a server that was restored may have lost it. */
export interface SentOff {
  readonly seq: number;
  readonly jobId: string;
  readonly sent: SentAct;
  readonly kept: KeptAct;
  /** When it was kept by the server's time, epoch milliseconds. */
  readonly keptAt: number;
}

/** The last known state of a job, so that it opens without a server. */
export interface JobSnapshot {
  readonly jobId: string;
  /** Version of the fold that made the state; one of another is dropped. */
  readonly fold: number;
  /** Log that it is of; another after a restore. */
  readonly epoch: string;
  readonly state: JobState;
  readonly profile: Profile;
  readonly policy: Policy;
}

/** A picture that the server does not have yet. */
export interface WaitingPhoto {
  readonly photoId: string;
  readonly jobId: string;
  readonly picture: Blob;
}

/** By what this device signs for whoever is signed in. */
export interface HeldKey {
  readonly certificate: Certificate;
  /** Can be used here and taken nowhere. */
  readonly key: CryptoKey;
}

interface Schema extends DBSchema {
  photo: { key: string; value: WaitingPhoto };
  waiting: { key: number; value: Omit<WaitingAct, 'seq'> & { seq?: number } };
  sent: { key: number; value: SentOff; indexes: { job: string } };
  /** `epoch`: log that the snapshots, answers and sent acts belong to; `erased`: rows that this device knows to be erased. */
  about: { key: string; value: string };
  job: { key: string; value: JobSnapshot };
  answer: { key: string; value: unknown };
  key: { key: string; value: HeldKey };
}

type Upgrading = IDBPTransaction<Schema, StoreNames<Schema>[], 'versionchange'>;

/** Where the answer of who is signed in is asked, and kept. */
export const SESSION_PATH = '/api/session';
const HELD = 'held';
const DEVICE_ID = 'estuarine.device';
/** For this long after it was kept an act is offered again to a server that was restored. */
export const OFFERED_MILLISECOND = 7 * 24 * 3_600_000;

/** What this device keeps for itself: acts not yet kept by the server, and the last state of what was open. */
@Injectable({ providedIn: 'root' })
export class DeviceStore {
  #opened: Promise<IDBPDatabase<Schema>> | null = null;

  /** This browser as the server knows it; made once. One that cannot keep it is another device after each start. */
  readonly deviceId = findDeviceId();

  async listWaiting(): Promise<WaitingAct[]> {
    return (await (await this.#db()).getAll('waiting')) as WaitingAct[];
  }

  /** Returns once the act is on the disk of the device. */
  async addWaiting(jobId: string, act: Omit<SentAct, 'device'>, isClockSure: boolean): Promise<WaitingAct> {
    const transaction = (await this.#db()).transaction('waiting', 'readwrite', { durability: 'strict' });
    const seq = await transaction.store.add({ jobId, sent: act, refused: null });
    // numbered by the order in which the device has them, whatever the order in which they arrive
    const sent: SentAct = { ...act, device: { id: this.deviceId, turn: seq, isClockSure } };
    const waiting: WaitingAct = { seq, jobId, sent, refused: null };
    await transaction.store.put(waiting);
    await transaction.done;
    return waiting;
  }

  async findKey(): Promise<HeldKey | null> {
    return (await (await this.#db()).get('key', HELD)) ?? null;
  }

  async saveKey(held: HeldKey): Promise<void> {
    await (await this.#db()).put('key', held, HELD);
  }

  async removeKey(): Promise<void> {
    await (await this.#db()).delete('key', HELD);
  }

  /** Changes acts that still wait; one that has left meanwhile stays away. */
  async saveWaiting(acts: readonly WaitingAct[]): Promise<void> {
    const { store, done } = (await this.#db()).transaction('waiting', 'readwrite');
    await Promise.all(acts.map(async (act) => ((await store.getKey(act.seq)) === undefined ? undefined : store.put(act))));
    await done;
  }

  /** The server has kept these: they wait no longer. */
  async moveToSent(acts: readonly SentOff[]): Promise<void> {
    const transaction = (await this.#db()).transaction(['waiting', 'sent'], 'readwrite', { durability: 'strict' });
    const [waiting, sent] = [transaction.objectStore('waiting'), transaction.objectStore('sent')];
    await Promise.all(acts.flatMap((act) => [waiting.delete(act.seq), sent.put(act)]));
    await transaction.done;
  }

  /** Acts of a job that the server has kept, in the order of this device. */
  async listSent(jobId: string): Promise<SentOff[]> {
    return (await this.#db()).getAllFromIndex('sent', 'job', jobId);
  }

  /** Forgets every act that was kept: room for what waits is worth more than offering again what a restored server may have lost. */
  async makeRoom(): Promise<void> {
    await (await this.#db()).clear('sent');
  }

  /** Forgets acts that were kept longer ago than they are offered again. */
  async forgetSent(now: number): Promise<void> {
    const { store, done } = (await this.#db()).transaction('sent', 'readwrite');
    for (const act of await store.getAll()) if (act.keptAt < now - OFFERED_MILLISECOND) await store.delete(act.seq);
    await done;
  }

  /**
   * The server's log is this one. Where it is another than before, what was seen of that is dropped, and what was kept there lately waits
   * again, in its old order. Gives whether it is another.
   */
  async beginEpoch(epoch: string, now: number): Promise<boolean> {
    const transaction = (await this.#db()).transaction(['about', 'job', 'answer', 'sent', 'waiting'], 'readwrite', {
      durability: 'strict',
    });
    const [about, sent, waiting] = [transaction.objectStore('about'), transaction.objectStore('sent'), transaction.objectStore('waiting')];
    const before = await about.get('epoch');
    const isOther = before !== undefined && before !== epoch;
    if (before !== epoch) await about.put(epoch, 'epoch');
    if (isOther) {
      for (const { keptAt, kept: _, ...act } of await sent.getAll())
        if (keptAt >= now - OFFERED_MILLISECOND) await waiting.put({ ...act, refused: null });
      const answers = transaction.objectStore('answer');
      // who is signed in here is no part of the log
      for (const path of await answers.getAllKeys()) if (path !== SESSION_PATH) await answers.delete(path);
      await Promise.all([sent.clear(), transaction.objectStore('job').clear()]);
    }
    await transaction.done;
    return isOther;
  }

  /**
   * What stands here of rows that the shop has erased goes: answers that may tell their names, where more was erased than this device knew,
   * and papers that were sent. The acts stay, for a server that lost them.
   */
  async forgetErased({ vehicles, customers }: ErasedAnswer): Promise<void> {
    const transaction = (await this.#db()).transaction(['about', 'answer', 'sent'], 'readwrite');
    const [about, answers, sent] = [transaction.objectStore('about'), transaction.objectStore('answer'), transaction.objectStore('sent')];
    const known = [...vehicles, ...customers].sort().join(' ');
    if (((await about.get('erased')) ?? '') !== known) {
      await about.put(known, 'erased');
      for (const path of await answers.getAllKeys()) if (path.startsWith('/api/jobs')) await answers.delete(path);
    }
    for (const { sent: act, ...more } of await sent.getAll()) {
      const { vehicle, customer } = act.act.body as {
        readonly vehicle?: { readonly id?: string };
        readonly customer?: { readonly id?: string } | null;
      };
      const [isVehicle, isCustomer] = [vehicles.includes(vehicle?.id ?? ''), customers.includes(customer?.id ?? '')];
      if (!act.papers || !(isVehicle || isCustomer)) continue;
      const papers = {
        vehicle: isVehicle ? { name: 'vehicle erased', plate: '', odometerKilometre: null, note: '' } : act.papers.vehicle,
        customer: isCustomer ? { name: 'customer erased', contact: '' } : act.papers.customer,
      };
      await sent.put({ ...more, sent: { ...act, papers } });
    }
    await transaction.done;
  }

  async removeWaiting(seqs: readonly number[]): Promise<void> {
    const transaction = (await this.#db()).transaction('waiting', 'readwrite');
    await Promise.all(seqs.map((seq) => transaction.store.delete(seq)));
    await transaction.done;
  }

  /** The last known state of a job, if this application folded it, of the log that is known last: another is dropped and fetched anew. */
  async findJob(jobId: string): Promise<JobSnapshot | undefined> {
    const db = await this.#db();
    const [found, epoch] = await Promise.all([db.get('job', jobId), db.get('about', 'epoch')]);
    if (found === undefined || (found.fold === FOLD_VERSION && (epoch === undefined || found.epoch === epoch))) return found;
    await db.delete('job', jobId);
    return undefined;
  }

  async saveJob(snapshot: JobSnapshot): Promise<void> {
    await (await this.#db()).put('job', snapshot);
  }

  /** Answers of the server worth having when it is away, such as the yard. */
  async findAnswer<T>(path: string): Promise<T | undefined> {
    return (await (await this.#db()).get('answer', path)) as T | undefined;
  }

  async saveAnswer(path: string, value: unknown): Promise<void> {
    await (await this.#db()).put('answer', value, path);
  }

  async listPhotos(): Promise<WaitingPhoto[]> {
    return (await this.#db()).getAll('photo');
  }

  /** Returns once the picture is on the disk of the device. */
  async savePhoto(photo: WaitingPhoto): Promise<void> {
    const transaction = (await this.#db()).transaction('photo', 'readwrite', { durability: 'strict' });
    await transaction.store.put(photo);
    await transaction.done;
  }

  async removePhoto(photoId: string): Promise<void> {
    await (await this.#db()).delete('photo', photoId);
  }

  #db(): Promise<IDBPDatabase<Schema>> {
    return (this.#opened ??= openDB<Schema>('estuarine', 6, {
      // another tab brings a newer application: this one lets it
      blocking: (_current, _wanted, event) => {
        (event.target as IDBDatabase).close();
      },
      upgrade: (db, oldVersion, _newVersion, transaction) => {
        // a step that fails aborts the whole of it, and the opening with it
        upgrade(db, oldVersion, transaction).catch(() => undefined);
      },
      terminated: () => {
        this.#opened = null;
      },
    }).catch((error: unknown) => {
      this.#opened = null;
      throw error;
    }));
  }
}

/** Brings the device's disk to this release; what waits on it stays. */
async function upgrade(db: IDBPDatabase<Schema>, oldVersion: number, transaction: Upgrading): Promise<void> {
  if (oldVersion < 1) db.createObjectStore('waiting', { keyPath: 'seq', autoIncrement: true });
  if (!db.objectStoreNames.contains('photo')) db.createObjectStore('photo', { keyPath: 'photoId' });
  if (!db.objectStoreNames.contains('key')) db.createObjectStore('key');
  // states and answers of an older form are fetched anew; waiting acts stay
  for (const name of ['job', 'answer'] as const) if (db.objectStoreNames.contains(name)) db.deleteObjectStore(name);
  db.createObjectStore('job', { keyPath: 'jobId' });
  db.createObjectStore('answer');
  if (oldVersion >= 5) return;
  db.createObjectStore('sent', { keyPath: 'seq' }).createIndex('job', 'jobId');
  db.createObjectStore('about');
  // before, what was kept waited on for its event
  if (oldVersion < 1) return;
  const waiting = transaction.objectStore('waiting');
  for (const act of await waiting.getAll()) {
    const { kept = null, ...left } = act as WaitingAct & { kept?: KeptAct | null };
    if (kept === null) await waiting.put(left);
    else {
      await waiting.delete(left.seq);
      await transaction.objectStore('sent').put({ ...left, kept, keptAt: Date.parse(kept.at) });
    }
  }
}

function findDeviceId(): string {
  const fresh = uuid();
  try {
    const known = localStorage.getItem(DEVICE_ID);
    if (known !== null) return known;
    localStorage.setItem(DEVICE_ID, fresh);
  } catch {
    // nothing can be kept here
  }
  return fresh;
}
