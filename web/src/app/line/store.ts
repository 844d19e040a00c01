import { Injectable } from '@angular/core';
import type { KeptAct, Problem, SentAct } from '@estuarine/contract';
import { FOLD_VERSION, type JobState, type Policy, type Profile } from '@estuarine/core';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { v7 as uuid } from 'uuid';

/** An act on its way. It leaves the device only when the server has kept it and its event has come back, or a person has seen its refusal. */
export interface WaitingAct {
  /** Order on this device. */
  readonly seq: number;
  readonly jobId: string;
  readonly sent: SentAct;
  readonly refused: Problem | null;
  readonly kept: KeptAct | null;
}

/** The last known state of a job, so that it opens without a server. */
export interface JobSnapshot {
  readonly jobId: string;
  /** Version of the fold that made the state; one of another is dropped. */
  readonly fold: number;
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

interface Schema extends DBSchema {
  photo: { key: string; value: WaitingPhoto };
  waiting: { key: number; value: Omit<WaitingAct, 'seq'> & { seq?: number } };
  job: { key: string; value: JobSnapshot };
  answer: { key: string; value: unknown };
}

const DEVICE_ID = 'estuarine.device';

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
    const seq = await transaction.store.add({ jobId, sent: act, refused: null, kept: null });
    // numbered by the order in which the device has them, whatever the order in which they arrive
    const sent: SentAct = { ...act, device: { id: this.deviceId, turn: seq, isClockSure } };
    const waiting: WaitingAct = { seq, jobId, sent, refused: null, kept: null };
    await transaction.store.put(waiting);
    await transaction.done;
    return waiting;
  }

  async saveWaiting(act: WaitingAct): Promise<void> {
    await (await this.#db()).put('waiting', act);
  }

  async removeWaiting(seqs: readonly number[]): Promise<void> {
    const transaction = (await this.#db()).transaction('waiting', 'readwrite');
    await Promise.all(seqs.map((seq) => transaction.store.delete(seq)));
    await transaction.done;
  }

  /** The last known state of a job, if this application folded it: that of another is dropped and fetched anew. */
  async findJob(jobId: string): Promise<JobSnapshot | undefined> {
    const found = await (await this.#db()).get('job', jobId);
    if (found === undefined || found.fold === FOLD_VERSION) return found;
    await (await this.#db()).delete('job', jobId);
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

  async removeAnswer(path: string): Promise<void> {
    await (await this.#db()).delete('answer', path);
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
    return (this.#opened ??= openDB<Schema>('estuarine', 4, {
      upgrade(db, oldVersion) {
        if (oldVersion < 1) db.createObjectStore('waiting', { keyPath: 'seq', autoIncrement: true });
        if (!db.objectStoreNames.contains('photo')) db.createObjectStore('photo', { keyPath: 'photoId' });
        // states and answers of an older form are fetched anew; waiting acts stay
        for (const name of ['job', 'answer'] as const) if (db.objectStoreNames.contains(name)) db.deleteObjectStore(name);
        db.createObjectStore('job', { keyPath: 'jobId' });
        db.createObjectStore('answer');
      },
    }));
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
