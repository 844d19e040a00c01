/**
 * What chapters of a job share: a chapter is a part of the work with its acts, its slice of the state, what becomes of its acts, and what
 * it does on hearing of effects. Chapters know the ground and nothing of one another; `job/frame` joins them, `job/line` reads them all.
 */
import * as z from 'zod';
import type { GearPolicy } from '../../gear/due.ts';
import type { Gear } from '../../gear/gear.ts';
import type { IsolationPolicy } from '../../isolate/policy.ts';
import type { PackState } from '../../pack/effect.ts';
import type { Fact } from '../../pack/fact.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import type { DeviceWord, Stamp } from './stamp.ts';

/** May look and measure; may also choose plans; may also sign and override. */
export const ROLES = ['apprentice', 'technician', 'lead'] as const;
export type Role = (typeof ROLES)[number];

/**
 * Tables that jobs share: papers of vehicle and customer, modules that came in a pack, who has reserved a module, what is set aside, and
 * photographs. An act that has a part in one is decided while its job is locked.
 */
export type JobWrite = 'papers' | 'packModules' | 'reservation' | 'quarantine' | 'photograph';

/** What is true of every act of a type. */
export interface Trait {
  /**
   * A fact says what was seen or done and is kept whatever the order: on its way it waits for no permit, and whoever is at the device may
   * forward it. A permit lets something happen, can be refused, and goes in its author's session behind the facts before it.
   */
  readonly nature: 'fact' | 'permit';
  /** The least role that may do it. */
  readonly least: Role;
  /** What it does, to follow on "the lead" or "a technician": `chooses the plan`. */
  readonly does: string;
  /** Whether its author can take it back. */
  readonly isTakenBack: boolean;
  /** Fields of the body that the server fills in, whatever came. */
  readonly serverFills: readonly string[];
  /** Whether it is shown as done while it still waits on its device; a permit that lets hands go on is not. */
  readonly isShownWaiting: boolean;
  /** The stage that the job is at afterwards: one, the one that the body names, or as before. */
  readonly stage: Stage | 'body' | null;
  /** Version of its body; older ones are brought up on reading. */
  readonly version: number;
  /** What it means for tables that jobs share; for most nothing. */
  readonly writes: readonly JobWrite[];
  /**
   * Whether it is kept as the word of whoever sends it where nothing proves that its author said it; what is not waits for the author.
   * Permits always do.
   */
  readonly isPassedOn: boolean;
}

const USUAL = { isTakenBack: false, serverFills: [], stage: null, version: 1, writes: [], isPassedOn: true } as const;

/** What somebody saw or did. */
export function fact(does: string, more: Partial<Trait> = {}): Trait & { readonly nature: 'fact' } {
  return { ...USUAL, least: 'apprentice', isShownWaiting: true, does, ...more, nature: 'fact' };
}

/** What somebody lets happen. */
export function permit(does: string, least: Role, more: Partial<Trait> = {}): Trait & { readonly nature: 'permit' } {
  return { ...USUAL, least, isShownWaiting: false, does, ...more, nature: 'permit', isPassedOn: false };
}

/** Who did it and when by which clock; all that the fold needs beside the act. */
export interface EventHeader {
  /** 1-based within the job. */
  readonly number: number;
  readonly commandId: string;
  /** Id of the person. */
  readonly by: string;
  /** Time of the server, ISO 8601. */
  readonly at: string;
  /** Time of the device corrected by its measured offset, ISO 8601. */
  readonly deviceAt: string;
  /** What the device said of itself; older releases and other clients say nothing. */
  readonly device?: DeviceWord | undefined;
  /** Who sent it for its author, who had left the device; no second person. Left out where the author did. */
  readonly forwardedBy?: string | undefined;
  /** The latest time before it on this job, where the server's clock was set back since; found by the fold, never stored. */
  readonly setBackFrom?: string | undefined;
}

export const markSchema = z.strictObject({ by: z.string(), at: z.string(), number: z.int() });
/** Who did something, and when by the server's clock. */
export type Mark = Readonly<z.infer<typeof markSchema>>;

export function markOf({ by, at, number }: EventHeader): Mark {
  return { by, at, number };
}

/** What an act said, with who said it and the command that it can be taken back by. */
export function keptOf<B extends object>(event: EventHeader & { readonly body: B }): B & Mark & { readonly commandId: string } {
  return { ...markOf(event), ...event.body, commandId: event.commandId };
}

/** What deciding needs beyond the job itself. */
export interface DecideContext {
  readonly profile: Profile;
  readonly by: string;
  readonly role: Role;
  /** Why a shelf module cannot be had, as a sentence; null when it can. */
  readonly whyNotFree: (moduleId: string) => string | null;
  /** What the shelf knows of a module's capacity; null where it was not measured. */
  readonly shelfCapacityAh: (moduleId: string) => number | null;
  /** The least range that was proven for an arrangement of modules in these places; null where nothing was proven. */
  readonly provenRange: (capacitiesAh: readonly number[]) => number | null;
  /** Server time, epoch milliseconds. */
  readonly now: number;
  /** When the act was said, by its device; left out where only the order is known. */
  readonly stamp?: Stamp;
  readonly isolation: IsolationPolicy;
  readonly gearPolicy: GearPolicy;
  readonly findGear: (gearId: string) => Gear | null;
  /** Why this person may not sign hazards today, as a sentence; null where they may. */
  readonly whyNotSign: string | null;
}

/** What a chapter may know of the rest of its job while it decides. */
export interface JobScene {
  readonly pack: PackState;
  /** Statements that do not stand and may yet be so. */
  readonly late: readonly { readonly fact: Fact }[];
  readonly lastAt: string;
  /** Measured capacity of a module of this pack; null where it was not measured. */
  readonly capacityAh: (moduleId: string) => number | null;
  /** What still stands against closing the job as finished, as sentences. */
  readonly unmet: () => readonly string[];
}
