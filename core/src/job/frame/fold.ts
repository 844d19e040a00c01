/**
 * Folding events into the state of a job. Server and browser run the same fold; only the server appends. The frame numbers, keeps
 * what can be taken back and the minutes, turns each event into effects, and hands event and effects to the chapters.
 */
import { applyEffect, wholePack, type Effect, type PackState } from '../../pack/effect.ts';
import { effectsOfFact, type Fact } from '../../pack/fact.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import type { EventHeader } from '../chapters/chapter.ts';
import { effectsOfKind } from '../chapters/intake/fold.ts';
import { CLOCK_MILLISECOND, stampOf, type Stamp } from '../chapters/stamp.ts';
import { keepByTable, withdrawByTable, type Table } from '../chapters/table.ts';
import { ACT_TRAITS, type ActType, type FrameAct, type JobEvent } from './acts.ts';
import { copyPlain } from './copy.ts';
import { findOutOfOrder } from './order.ts';
import { actOfSaid, headerOf, takePassed } from './passed.ts';
import { CHAPTER_NAMES, CHAPTERS, startState, type ChapterName, type JobState } from './state.ts';
import { hazardsCounted } from './counted-hazards.ts';
import { isStated, renewStatement, takeStatement, withdrawStatements } from './statements.ts';

/** How many acts a person can take back. */
const UNDO_DEPTH = 20;
/** How many command ids a state remembers; a browser has one act under way at a time. */
const RECENT_IDS = 100;
/** A gap between two events longer than this is a break: nobody worked on the job meanwhile. */
const BREAK_MINUTE = 30;

type TypesOf<N extends ChapterName> = N extends ChapterName ? keyof (typeof CHAPTERS)[N]['table'] : never;

/** The chapters as the frame sees them, whatever their slice. */
interface AnyChapter {
  readonly table: Table;
  readonly fold: Readonly<Record<string, (slice: unknown, event: JobEvent, pack: PackState) => void>>;
  readonly effects: Readonly<Record<string, (event: JobEvent, profile: Profile) => readonly Effect[]>>;
  readonly hears: readonly Effect['kind'][];
  readonly hear?: (slice: unknown, effect: Effect, header: EventHeader, pack: PackState, isLate: boolean) => void;
  readonly findOdd?: (slice: unknown, effect: Effect, pack: PackState) => string | null;
  readonly doubt?: Readonly<Record<string, (slice: unknown, event: JobEvent) => void>>;
  readonly withdraw?: (slice: unknown, commandId: string, header: EventHeader) => void;
}
const chapters = CHAPTERS as unknown as Readonly<Record<ChapterName, AnyChapter>>;

/** A type of act that neither the frame nor a chapter has does not compile where it is looked up here. */
const OWNERS: ReadonlyMap<FrameAct['type'] | TypesOf<ChapterName>, ChapterName> = new Map(
  CHAPTER_NAMES.flatMap((name) => (Object.keys(chapters[name].table) as TypesOf<ChapterName>[]).map((type) => [type, name])),
);

/** The chapter that an act belongs to; null for those of the frame. */
export function chapterOf(type: ActType): ChapterName | null {
  return OWNERS.get(type) ?? null;
}

interface Hearer {
  readonly name: ChapterName;
  readonly hear: NonNullable<AnyChapter['hear']>;
}
const hearersOf = (kind: Effect['kind']): Hearer[] =>
  CHAPTER_NAMES.flatMap((name) => {
    const { hears, hear } = chapters[name];
    return hear && hears.includes(kind) ? [{ name, hear }] : [];
  });
const HEARERS: Readonly<Record<Effect['kind'], readonly Hearer[]>> = {
  touched: hearersOf('touched'),
  stowed: hearersOf('stowed'),
  bared: hearersOf('bared'),
  parted: hearersOf('parted'),
  joined: hearersOf('joined'),
  charged: hearersOf('charged'),
  moved: hearersOf('moved'),
  energised: hearersOf('energised'),
  measured: hearersOf('measured'),
  elapsed: hearersOf('elapsed'),
};

/** Those that hear of what may have happened, and nothing proves: whose conditions it makes harder to meet, never easier. */
const HEAR_DOUBTS: ReadonlySet<ChapterName> = new Set(['isolate', 'sweep', 'refit']);

/** Gives a slice that may be changed. */
type Own = (name: ChapterName) => unknown;

/** The state after all events, in number order. O(1) an event. */
export function fold(profile: Profile, events: readonly JobEvent[]): JobState {
  const state = startState(profile);
  for (const event of events) apply(state, profile, event);
  return state;
}

/** Adds one event to a state that the caller owns. */
export function apply(state: JobState, profile: Profile, event: JobEvent): void {
  applyEvent(state, profile, event, (name) => state[name]);
}

/**
 * A new state with the events added; the old one stays as it was. Events already in it are passed over. A slice that is touched is
 * copied once, the others are shared.
 */
export function extend(state: JobState, profile: Profile, events: readonly JobEvent[]): JobState {
  const fresh = events.filter((e) => e.number > state.head);
  if (fresh.length === 0) return state;
  const { minutes, recentIds, undoable, facts, renewals, passed, said, late } = state;
  const next: JobState = {
    ...state,
    minutes: { ...minutes },
    recentIds: [...recentIds],
    undoable: copyPlain(undoable),
    facts: [...facts],
    renewals: [...renewals],
    passed: [...passed],
    said: new Map(said),
    late: [...late],
  };
  const owned = new Set<ChapterName>();
  const own: Own = (name) => {
    if (!owned.has(name)) {
      owned.add(name);
      Object.assign(next, { [name]: copyPlain(next[name]) });
    }
    return next[name];
  };
  for (const event of fresh) applyEvent(next, profile, event, own);
  return next;
}

/** The header with what the times of the job so far say of its own: they only run backwards where the server's clock was set back. */
export function inTimeOf<E extends Pick<EventHeader, 'at'>>(
  { latestAt }: Pick<JobState, 'latestAt'>,
  header: E,
): E & Pick<EventHeader, 'setBackFrom'> {
  // both are ISO 8601 in UTC, and hardly ever out of order
  if (header.at >= latestAt || Date.parse(header.at) >= Date.parse(latestAt) - CLOCK_MILLISECOND) return header;
  return { ...header, setBackFrom: latestAt };
}

function applyEvent(state: JobState, profile: Profile, asKept: JobEvent, own: Own): void {
  const event = inTimeOf(state, asKept);
  const before = state.lastAt;
  if (before !== '') tell(state, { kind: 'elapsed', since: before }, event, own);
  state.head = event.number;
  state.lastAt = event.at;
  state.lastBy = event.by;
  if (event.at > state.latestAt) state.latestAt = event.at;
  const trait = ACT_TRAITS[event.type];
  const wasHeard = answerHeard(state, event);
  if (isFrameEvent(event)) applyFrame(state, profile, event, own);
  else {
    if (event.type === 'job.opened') state.policyVersion = event.body.policyVersion;
    const owner = chapterOf(event.type) as ChapterName;
    const { table, effects, fold: foldByCode } = chapters[owner];
    for (const effect of effects[event.type]?.(event, profile) ?? []) tell(state, effect, event, own);
    if (!keepByTable(table, own(owner), event)) foldByCode[event.type]?.(own(owner), event, state.pack);
    if (event.type === 'part.moved')
      for (const fact of hazardsCounted(event.body, state.pack, profile))
        if (isStated(state.pack, fact, profile)) {
          const stamp = stampOf(event);
          renewStatement(state, fact, stamp, profile);
          state.renewals.push({ number: event.number, commandId: event.commandId, stamp, fact });
        }
  }
  // what an act means besides comes with its id and is taken back with it
  if (trait.isTakenBack && (wasHeard || state.recentIds.at(-1) !== event.commandId)) remember(state, event);
  state.stage = trait.stage === 'body' ? stageOf(event) : (trait.stage ?? state.stage);
  noteId(state, event.commandId);
  noteMinutes(state, before, event.at);
}

function isFrameEvent(event: JobEvent): event is EventHeader & FrameAct {
  return chapterOf(event.type) === null;
}

function applyFrame(state: JobState, profile: Profile, event: EventHeader & FrameAct, own: Own): void {
  switch (event.type) {
    case 'fact.stated': {
      const { stage, fact } = event.body;
      const { number, by, at, commandId } = event;
      const stamp = stampOf(event);
      const odd = findOutOfOrder(state.pack, fact, profile) ?? findOdd(state, effectsOfFact(fact, profile));
      const order = takeStatement(state, fact, stamp, profile, ({ effect, isLate }) => {
        const isLaid = stage === 'rebuild' && effect.kind === 'moved' && effect.what === 'module';
        tell(state, isLaid ? { ...effect, isLaid } : effect, event, own, isLate);
      });
      const came = order === 'after' ? null : order === 'before' ? 'late' : 'unclear';
      state.facts.push({ number, stage, by, at, fact, came, outOfOrder: came === null ? odd : CAME[came], commandId, stamp });
      return;
    }
    case 'act.withdrawn': {
      const { commandId } = event.body;
      const list = state.undoable.get(event.by) ?? [];
      const taken = list.find((u) => u.commandId === commandId);
      if (!taken) return;
      state.undoable.set(
        event.by,
        list.filter((u) => u !== taken),
      );
      const owner = chapterOf(taken.type);
      const isHeard = owner !== null && chapters[owner].table[taken.type]?.effects === 'some';
      for (const name of CHAPTER_NAMES) {
        const { table, hears, withdraw } = chapters[name];
        if (name === owner) withdrawByTable(table, own(name), commandId);
        // what an act did besides was heard by others too
        if (name === owner || (isHeard && hears.length > 0)) withdraw?.(own(name), commandId, event);
      }
      if (taken.type === 'part.moved') withdrawCount(state, commandId, profile, event, own);
      return;
    }
    case 'policy.adopted':
      state.policyVersion = event.body.policyVersion;
      return;
    case 'word.passed':
      doubt(state, profile, event, own);
      return;
    case 'word.confirmed': {
      const answered = new Set(event.body.commandIds);
      state.passed = state.passed.filter((p) => !answered.has(p.said.commandId));
    }
  }
}

/** An act that was heard under this id in the name of whoever says it now: their own word is the answer. Gives whether one was. */
function answerHeard(state: JobState, { commandId, by }: JobEvent): boolean {
  const left = state.passed.filter((p) => p.said.commandId !== commandId || p.of !== by);
  const wasHeard = left.length < state.passed.length;
  state.passed = left;
  return wasHeard;
}

/** What a word that nothing proves may have done is heard, and only by those whom it makes more careful. */
function doubt(state: JobState, profile: Profile, event: EventHeader & Extract<FrameAct, { type: 'word.passed' }>, own: Own): void {
  const said = { ...headerOf(event), ...actOfSaid(event.body.said) };
  const hear = (effect: Effect): void => {
    // a voltage that nobody proves could be below the one that stands
    if (effect.kind !== 'measured')
      for (const { name, hear: tellOne } of HEARERS[effect.kind])
        if (HEAR_DOUBTS.has(name)) tellOne(own(name), effect, said, state.pack, true);
  };
  takePassed(state, profile, event, said, hear);
  const owner = chapterOf(said.type);
  if (owner === null) return;
  for (const effect of chapters[owner].effects[said.type]?.(said, profile) ?? []) hear(effect);
  chapters[owner].doubt?.[said.type]?.(own(owner), said);
}

/** What a count meant goes with it: what it spoke of stands as it does without it. */
function withdrawCount(state: JobState, commandId: string, profile: Profile, event: EventHeader, own: Own): void {
  const start = (state.intake.opened ? effectsOfKind(state.intake.opened.kind) : []).reduce(applyEffect, wholePack(profile));
  withdrawStatements(
    state,
    commandId,
    { start, words: state.facts, renewals: state.renewals, doubts: doubtsOf(state) },
    profile,
    (effect) => {
      tell(state, effect, event, own);
    },
  );
  state.facts = state.facts.filter((f) => f.commandId !== commandId);
  state.renewals = state.renewals.filter((r) => r.commandId !== commandId);
}

/** Each part of what words that nothing proves may have done. */
function doubtsOf({ passed }: JobState): { number: number; commandId: string; stamp: Stamp; fact: Fact }[] {
  return passed.flatMap(({ number, said: { commandId }, stamp, facts }) => facts.map((fact) => ({ number, commandId, stamp, fact })));
}

const CAME = {
  late: 'It came late: something was stated about it since. What is more hazardous holds until it is stated anew.',
  unclear: 'It was stated at the same time as something else about it. What is more hazardous holds until it is stated anew.',
} as const;

/** Tells every chapter that listens, then the pack, unless what was said does not stand. */
function tell(state: JobState, effect: Effect, header: EventHeader, own: Own, isLate = false): void {
  for (const { name, hear } of HEARERS[effect.kind]) hear(own(name), effect, header, state.pack, isLate);
  if (!isLate) state.pack = applyEffect(state.pack, effect);
}

function findOdd(state: JobState, effects: readonly Effect[]): string | null {
  for (const name of CHAPTER_NAMES)
    for (const effect of effects) {
      const odd = chapters[name].findOdd?.(state[name], effect, state.pack);
      if (odd != null) return odd;
    }
  return null;
}

function stageOf({ body }: JobEvent): Stage {
  return (body as { readonly stage: Stage }).stage;
}

function remember(state: JobState, { by, commandId, type }: JobEvent): void {
  const list = state.undoable.get(by) ?? [];
  list.push({ commandId, type });
  if (list.length > UNDO_DEPTH) list.shift();
  state.undoable.set(by, list);
}

function noteId({ recentIds }: JobState, commandId: string): void {
  if (recentIds.at(-1) !== commandId) recentIds.push(commandId);
  if (recentIds.length > RECENT_IDS) recentIds.shift();
}

/** What was done since the last event is what this one tells of. */
function noteMinutes(state: JobState, before: string, at: string): void {
  const minute = before === '' ? 0 : (Date.parse(at) - Date.parse(before)) / 60_000;
  if (minute > 0 && minute <= BREAK_MINUTE) state.minutes[state.stage] = (state.minutes[state.stage] ?? 0) + minute;
}
