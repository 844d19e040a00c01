/**
 * A chapter is a table of acts: for each the body it says, what is true of it, whether it does anything besides, and the list that keeps
 * it. The schema of all acts, the kept lists of a state and taking back follow from that; what is special to an act is code beside it, which
 * does not compile where it lacks.
 */
import * as z from 'zod';
import type { Effect, PackState } from '../../pack/effect.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Refusal } from '../../result.ts';
import { keptOf, markSchema, type DecideContext, type EventHeader, type JobScene, type Trait } from './chapter.ts';

/** `effects`: whether it changes vehicle and pack, or what another chapter hears; `kept`: the list of its slice, null for code. */
type Row = { readonly trait: Trait; readonly effects: 'some' | 'none' } & (
  { readonly body: z.ZodObject; readonly kept: string } | { readonly body: z.ZodType; readonly kept: null }
);
export type Table = Readonly<Record<string, Row>>;

type TypesOf<T extends Table> = keyof T & string;
/** An act of a table: one of its types, with its body. */
export type ActOf<T extends Table, K extends TypesOf<T> = TypesOf<T>> = {
  [Type in K]: { type: Type; body: z.output<T[Type]['body']> };
}[K];
/** Schemas of the acts of a table. */
export type SchemaOf<T extends Table> = {
  [K in TypesOf<T>]: z.ZodObject<{ type: z.ZodLiteral<K>; body: T[K]['body'] }, z.core.$strict>;
}[TypesOf<T>];
export type TraitsOf<T extends Table> = { readonly [K in TypesOf<T>]: T[K]['trait'] };

export function schemasOf<T extends Table>(table: T): SchemaOf<T>[] {
  return Object.entries(table).map(([type, { body }]) => z.strictObject({ type: z.literal(type), body }));
}

export function traitsOf<T extends Table>(table: T): TraitsOf<T> {
  return Object.fromEntries(Object.entries(table).map(([type, { trait }]) => [type, trait])) as TraitsOf<T>;
}

/** Beside a table, and not in the way of those who only keep acts: each as a noun, and one of it. */
export type SaidOf<T extends Table> = {
  readonly [K in TypesOf<T>]: { readonly word: string; readonly sample: z.output<T[K]['body']> };
};

const KEPT = { ...markSchema.shape, commandId: z.string() };
/** What the act itself says under a name of the mark stands. */
type KeptShape<B> = B extends z.ZodObject<infer S> ? S & Omit<typeof KEPT, keyof S> : never;
type Lists<T extends Table> = {
  [K in TypesOf<T> as T[K]['kept'] & string]: z.ZodArray<z.ZodObject<KeptShape<T[K]['body']>, z.core.$strict>>;
};

/** The lists that keep what the acts of a table say, in the order kept, as a part of the schema of its slice. */
export function keptLists<T extends Table>(table: T): Lists<T> {
  const lists = Object.values(table).flatMap(({ kept, body }) =>
    kept === null ? [] : [[kept, z.array(z.strictObject({ ...KEPT, ...body.shape }))] as const],
  );
  return Object.fromEntries(lists) as unknown as Lists<T>;
}

/** A slice as its chapter starts, with empty lists. */
export function startSlice<S, T extends Table>({ table, start }: Chapter<S, T>, profile: Profile): S {
  const lists = Object.values(table).flatMap(({ kept }) => (kept === null ? [] : [[kept, []] as const]));
  return { ...Object.fromEntries(lists), ...start(profile) } as S;
}

type AnySlice = Record<string, { readonly commandId: string }[]>;

/** Keeps what an act said where its table says so; false where that is the chapter's own code. */
export function keepByTable(table: Table, slice: unknown, event: EventHeader & { readonly type: string; readonly body: object }): boolean {
  const kept = table[event.type]?.kept ?? null;
  if (kept !== null) (slice as AnySlice)[kept]?.push(keptOf(event));
  return kept !== null;
}

/** Takes what an act said out of the lists of its table. */
export function withdrawByTable(table: Table, slice: unknown, commandId: string): void {
  const lists = slice as AnySlice;
  for (const { kept } of Object.values(table)) {
    const list = kept === null ? undefined : lists[kept];
    // a list of its own: who looked at it before sees it as it was
    if (kept !== null && list?.some((one) => one.commandId === commandId)) lists[kept] = list.filter((one) => one.commandId !== commandId);
  }
}

type EventOf<T extends Table, K extends TypesOf<T>> = EventHeader & ActOf<T, K>;
/** Null keeps the act as it is; another act is kept in its place. */
type Decider<S, T extends Table, K extends TypesOf<T>> = (
  slice: S,
  act: ActOf<T, K>,
  context: DecideContext,
  scene: JobScene,
) => ActOf<T, K> | Refusal | null;

type OfPermits<T extends Table> = { [K in TypesOf<T>]: T[K]['trait'] extends { readonly nature: 'permit' } ? K : never }[TypesOf<T>];
type OfCode<T extends Table> = { [K in TypesOf<T>]: T[K]['kept'] extends null ? K : never }[TypesOf<T>];
type OfEffects<T extends Table> = { [K in TypesOf<T>]: T[K]['effects'] extends 'some' ? K : never }[TypesOf<T>];

export interface Chapter<S, T extends Table> {
  readonly table: T;
  /** All of a slice but the lists of the table. */
  readonly start: (profile: Profile) => Omit<S, keyof Lists<T>>;
  /** Changes the slice, which its caller owns; `pack` is as it stands. For every act that the table does not keep. */
  readonly fold: { readonly [K in OfCode<T>]: (slice: S, event: EventOf<T, K>, pack: PackState) => void };
  /** What its acts do to vehicle and pack besides, told to every chapter before the act is folded. */
  readonly effects: { readonly [K in OfEffects<T>]: (event: EventOf<T, K>, profile: Profile) => readonly Effect[] };
  /** Cases of deciding: every permit has one, a fact without is kept. */
  readonly decide: { readonly [K in OfPermits<T>]: Decider<S, T, K> } & { readonly [K in TypesOf<T>]?: Decider<S, T, K> };
  /**
   * The effects it listens to, and what it does on hearing one; `pack` is as it was before. A late effect was said before what stands:
   * the pack stays as it is.
   */
  readonly hears: readonly Effect['kind'][];
  readonly hear?: (slice: S, effect: Effect, header: EventHeader, pack: PackState, isLate: boolean) => void;
  /** Why an effect comes out of the usual order, as a sentence; null where it does not. */
  readonly findOdd?: (slice: S, effect: Effect, pack: PackState) => string | null;
  /** What an act does to the slice while nothing proves that its author said it, besides its effects: it may end, and adds nothing. */
  readonly doubt?: { readonly [K in TypesOf<T>]?: (slice: S, event: EventOf<T, K>) => void };
  /** Takes what an act added out of what counts, besides the lists of the table: exactly as if it had not been. */
  readonly withdraw?: (slice: S, commandId: string, header: EventHeader) => void;
}
