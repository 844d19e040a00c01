/** Answers of the server, as the browser receives them. */
import type { JobState, ModuleType, Policy, Profile, Role, Stage, StockModule } from '@estuarine/core';

export interface Person {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
}

export interface Session {
  readonly person: Person | null;
  readonly persons: readonly Person[];
  /** Whether the data is the demonstration's. */
  readonly isDemo: boolean;
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
  readonly reachableVolt: number;
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
