/** Answers of the server, as the browser receives them. */
import type {
  Competence,
  Gear,
  GearPolicy,
  Instrument,
  JobState,
  ModuleType,
  Policy,
  Profile,
  Role,
  Stage,
  StockModule,
} from '@estuarine/core';

export interface Person {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
}

/** An account of the demonstration, with its passphrase in the open. */
export interface DemoAccount extends Person {
  readonly passphrase: string;
}

export interface Session {
  /** Who is signed in; null for nobody. */
  readonly person: Person | null;
  readonly isLocked: boolean;
  /** The people of the shop; empty while nobody is signed in. */
  readonly persons: readonly Person[];
  /** Whether the data is the demonstration's. */
  readonly isDemo: boolean;
  /** Accounts to show on the sign-in page of a demonstration; empty elsewhere. */
  readonly accounts: readonly DemoAccount[];
  /** The shop has nobody yet: the first lead signs up with the code printed where the server was started. */
  readonly needsFirstLead: boolean;
}

export interface PeopleAnswer {
  readonly persons: readonly Person[];
  readonly competences: readonly Competence[];
}

export interface GearRow {
  readonly gear: Gear;
  /** Why it was taken out of use; null while it is in use. */
  readonly retired: string | null;
}

export interface GearAnswer {
  readonly rows: readonly GearRow[];
  readonly policy: GearPolicy;
  /** Calendar date at the shop. */
  readonly today: string;
  /** Path of the feed of due dates, with its own key. */
  readonly feed: string;
}

/** An instrument that can be asked for a reading. */
export interface InstrumentRow extends Instrument {
  /** Part of the demonstration: computed, never measured. */
  readonly isSimulated: boolean;
}

/** A reading taken from an instrument. */
export interface MeasureAnswer {
  readonly value: number;
  readonly unit: 'V' | 'ohm';
  /** What the instrument calls itself. */
  readonly identity: string;
  readonly isSimulated: boolean;
}

/** A job in the yard. */
export interface JobSummary {
  readonly jobId: string;
  readonly number: number;
  readonly vehicleName: string;
  readonly plate: string;
  readonly profileId: string;
  readonly profileName: string;
  readonly stage: Stage;
  /** Within reach while the proof of dead stands, if one does. */
  readonly reachableVolt: number;
  /** Within reach once it has lapsed; the same where none stands. */
  readonly lapsedVolt: number;
  /** When the standing proof ends by the time alone, ISO 8601; null where none stands. */
  readonly proofEndsAt: string | null;
  /** When the wait for the capacitors is over; null where none runs or a proof stands. */
  readonly waitEndsAt: string | null;
  /** An apprentice asks a qualified person to sign a proof. */
  readonly asksCosign: boolean;
  readonly behindVolt: number;
  readonly measuredCount: number;
  readonly moduleCount: number;
  readonly rejectCount: number;
  readonly openedAt: string;
  readonly lastAt: string;
}

export interface JobAnswer {
  readonly jobId: string;
  readonly state: JobState;
  readonly profileId: string;
  readonly profileVersion: number;
}

export interface ProfileAnswer {
  readonly profile: Profile;
}

export interface PolicyAnswer {
  readonly version: number;
  readonly policy: Policy;
}

/** A module known to the shop. */
export interface StockRow extends StockModule {
  readonly quarantine: string | null;
  /** Number of the job that has reserved it. */
  readonly reservedBy: number | null;
  /** Number of the job whose pack it sits in, with its place. */
  readonly inJob: number | null;
  readonly place: number | null;
}

export interface StockAnswer {
  readonly types: readonly ModuleType[];
  readonly rows: readonly StockRow[];
}
