/**
 * What would settle what the number stands above the known: each question with answers of one press. Nobody sees a contactor open: the
 * relay block is off, or a meter at the pack's own posts says so.
 */
import { contraryOf, isSameFact, type Fact } from '../../pack/fact.ts';
import type { Profile } from '../../pack/profile.ts';
import { listDoubtedFalls } from '../chapters/sweep/state.ts';
import { keysOf } from '../chapters/sweep/view.ts';
import type { Act } from '../frame/acts.ts';
import { listDisagreements } from '../frame/counted-hazards.ts';
import type { JobState } from '../frame/state.ts';
import { raisingWords } from '../frame/statements.ts';
import { findProbed } from './account.ts';
import type { Excess } from './excess.ts';

export interface QuestionAnswer {
  readonly label: string;
  readonly act: Act;
}

export interface Question {
  readonly cause: Excess['cause'];
  readonly ask: string;
  /** Each is one press; none where only work with a meter helps. */
  readonly answers: readonly QuestionAnswer[];
  /** What else settles it, as a sentence; empty where the answers do. */
  readonly hint: string;
}

/** Readings that fell too far, whatever they do to the number; then what stands above the known, in the order of its causes. */
export function listQuestions(state: JobState, excess: readonly Excess[], profile: Profile): Question[] {
  const asked = excess.flatMap(({ cause }) => ASKED[cause](state, profile).map((question) => ({ ...question, cause })));
  return [...askFalls(state).map((question) => ({ ...question, cause: 'readings' as const })), ...asked];
}

type Asked = Omit<Question, 'cause'>;

const ASKED: Record<Excess['cause'], (state: JobState, profile: Profile) => Asked[]> = {
  waiting: () => [{ ask: 'Some acts of this device are not kept yet.', answers: [], hint: 'They go as soon as the server is there.' }],
  probed: (state) => {
    const { isCarSide, isOutlet } = findProbed(state);
    return [...(isCarSide ? [askFacts(state, CABLES)] : []), ...(isOutlet ? [askFacts(state, POSTS)] : [])];
  },
  lateWord: askLateWords,
  counts: (state, profile) =>
    listDisagreements(state, profile).flatMap(({ counted, sentence }) =>
      counted ? [{ ...askFacts(state, bothWays(counted), 'all'), hint: `${sentence}.` }] : [],
    ),
  contactors: (state) => {
    const { contactors, chargerVolt } = state.pack;
    const off: Fact = { kind: 'contactors', are: 'takenOut' };
    return [
      ...(chargerVolt === null
        ? []
        : [
            {
              ask: `Is the source of ${chargerVolt} V off the pack?`,
              answers: [answerOf(state, { kind: 'charger', volt: null }, 'Yes, it is off')],
              hint: 'While it is on no proof of dead is signed: take it off, then say so.',
            },
          ]),
      ...(contactors === 'takenOut'
        ? [
            {
              ask: 'Are the capacitors of the car empty?',
              answers: [],
              hint: 'Only a reading there lowers the number: prove dead at the car side.',
            },
          ]
        : [
            {
              ask: 'Is the relay block off the pack?',
              answers: [
                answerOf(state, off, 'Yes, it is off'),
                ...(contactors === 'shut'
                  ? [answerOf(state, { kind: 'contactors', are: 'unknown' }, 'It is on, and nothing holds them shut')]
                  : []),
              ],
              hint: 'Nobody sees a contactor open. If it is on, only a reading at the pack’s own posts lowers the number: prove dead there.',
            },
          ]),
    ];
  },
  readings: () => [{ ask: 'Some readings are in question.', answers: [], hint: 'Choose between two, confirm them, or read them anew.' }],
  unmeasured: () => [{ ask: 'Some modules were not measured since the last charge.', answers: [], hint: 'Read them at rest.' }],
  low: () => [],
};

const CABLES: readonly Fact[] = (['closed', 'insulated', 'open'] as const).map((are) => ({ kind: 'connectors', are }));
const POSTS: readonly Fact[] = [false, true].map((areBare) => ({ kind: 'outletPosts', areBare }));

function askFacts(state: JobState, facts: readonly Fact[], counts?: 'all'): Asked {
  const [first] = facts;
  return { ask: first ? askAbout(first) : '', answers: facts.map((fact) => answerOf(state, fact, sayAnswer(fact), counts)), hint: '' };
}

function answerOf({ stage }: JobState, fact: Fact, label: string, counts?: 'all'): QuestionAnswer {
  return { label, act: { type: 'fact.stated', body: { stage, fact, ...(counts ? { counts } : {}) } } };
}

/** Each thing of which two words hold, asked once: covers and links together, all else by itself. */
function askLateWords(state: JobState, profile: Profile): Asked[] {
  const words = raisingWords(state, profile).map((w) => w.fact);
  const joints = numbersOf(words, (f) => (f.kind === 'covers' ? (f.over ?? []) : []));
  const links = numbersOf(words, (f) => (f.kind === 'links' ? f.links : []));
  const alone = words.filter((f) => f.kind !== 'covers' && f.kind !== 'links');
  const asked: (readonly Fact[])[] = [
    ...(joints.length > 0 ? [[true, false].map((areOff): Fact => ({ kind: 'covers', areOff, over: joints }))] : []),
    ...(links.length > 0 ? [[true, false].map((areOpen): Fact => ({ kind: 'links', links, areOpen }))] : []),
  ];
  for (const word of alone) {
    const ways = waysOf(word, state);
    if (!asked.some((facts) => facts.some((f) => ways.some((w) => isSameFact(f, w))))) asked.push(ways);
  }
  return asked.map((facts) => askFacts(state, facts));
}

function numbersOf(words: readonly Fact[], of: (fact: Fact) => readonly number[]): number[] {
  return [...new Set(words.flatMap(of))].sort((a, b) => a - b);
}

/** Every way in which the thing may stand that a word speaks of. */
function waysOf(word: Fact, { pack }: JobState): readonly Fact[] {
  switch (word.kind) {
    case 'connectors':
      return CABLES;
    case 'outletPosts':
      return POSTS;
    case 'contactors':
      return (['takenOut', 'unknown', 'shut'] as const).map((are) => ({ kind: 'contactors', are }));
    case 'charger': {
      const volts = [word.volt, pack.chargerVolt].filter((v): v is number => v !== null);
      return [...new Set(volts)].map((volt): Fact => ({ kind: 'charger', volt })).concat({ kind: 'charger', volt: null });
    }
    case 'module': {
      const here = pack.places[word.place - 1];
      const ids = new Set([word.moduleId, here?.moduleId ?? null, null]);
      return [...ids].map((moduleId) => ({ ...word, moduleId, isTurned: moduleId === here?.moduleId ? here.isTurned : word.isTurned }));
    }
    default:
      return bothWays(word);
  }
}

function bothWays(fact: Fact): readonly Fact[] {
  const contrary = contraryOf(fact);
  return contrary ? [fact, contrary] : [fact];
}

function askAbout(fact: Fact): string {
  switch (fact.kind) {
    case 'connectors':
      return 'How are the HV cables?';
    case 'outletPosts':
      return 'Are the pack’s own HV posts covered?';
    case 'contactors':
      return 'How are the contactors?';
    case 'case':
      return 'Is the case shut?';
    case 'covers':
      return 'Are the terminal covers on?';
    case 'harness':
      return 'Is the sense harness plugged in?';
    case 'frame':
      return 'Is the bus-bar frame on?';
    case 'links':
      return fact.links.length === 1 ? `Is link ${fact.links[0]} joined?` : `Are links ${fact.links.join(', ')} joined?`;
    case 'pack':
      return 'Where is the pack?';
    case 'plug':
      return 'Is the service plug in?';
    case 'twelveVolt':
      return 'Is the 12 V on?';
    case 'key':
      return 'Is the key away?';
    case 'charger':
      return 'Is a source on the pack?';
    case 'module':
      return `What sits at place ${fact.place}?`;
    case 'custody':
    case 'charged':
      return '';
  }
}

function sayAnswer(fact: Fact): string {
  switch (fact.kind) {
    case 'connectors':
      return { closed: 'On and covered', open: 'Open, posts bare', insulated: 'Off, insulated and tied back' }[fact.are];
    case 'outletPosts':
      return fact.areBare ? 'Bare' : 'Covered';
    case 'contactors':
      return { takenOut: 'Relay block off', unknown: 'On the pack, not known', shut: 'Shut', open: 'Open' }[fact.are];
    case 'case':
      return fact.isOpen ? 'Open' : 'Shut';
    case 'covers':
      return fact.areOff ? 'Off' : 'On';
    case 'harness':
      return fact.isUnplugged ? 'Unplugged' : 'Plugged in';
    case 'frame':
      return fact.isOff ? 'Off' : 'On';
    case 'links':
      return fact.areOpen ? 'Open' : 'Joined';
    case 'pack':
      return fact.isOnBench ? 'On the bench' : 'In the car';
    case 'plug':
      return fact.isIn ? 'In' : 'Out';
    case 'twelveVolt':
      return fact.isOff ? 'Off' : 'On';
    case 'key':
      return fact.isAway ? 'Away' : 'At the car';
    case 'charger':
      return fact.volt === null ? 'No, it is off' : `Yes, ${fact.volt} V`;
    case 'module':
      return fact.moduleId ?? 'Nothing';
    case 'custody':
    case 'charged':
      return '';
  }
}

/** Readings that fell further than a module does, by sweep. */
function askFalls({ sweep }: JobState): Asked[] {
  const falls = keysOf(sweep).flatMap((key, i) => listDoubtedFalls(sweep, key).map((told) => ({ ...told, place: i + 1 })));
  const groups = new Map<string, typeof falls>();
  for (const fall of falls) {
    const name = `${fall.sweep.id} ${fall.quantity}`;
    groups.set(name, [...(groups.get(name) ?? []), fall]);
  }
  return [...groups.values()].map((group): Asked => {
    const [first] = group as [(typeof falls)[number]];
    const places = group.map((f) => f.place);
    const sweepId = first.sweep.id;
    return {
      ask: sayFalls(group.map(({ place, reading, before }) => ({ place, volt: reading.value, before: before.value }))),
      answers: [{ label: 'They read so', act: { type: 'readings.confirmed', body: { sweepId, quantity: first.quantity, places } } }],
      hint: 'Or read them anew: until then they lower nothing.',
    };
  });
}

/** A reading this share of the one before, give or take a half of it, is a range or a point that slipped. */
const TENTH = 0.1;

function sayFalls(falls: readonly { readonly place: number; readonly volt: number; readonly before: number }[]): string {
  const [first] = falls as [(typeof falls)[number]];
  const areTenths = falls.every(({ volt, before }) => Math.abs(volt / before - TENTH) < TENTH / 2);
  const from = `${first.before.toFixed(2)} to ${first.volt.toFixed(2)} V`;
  const what =
    falls.length === 1 ? `Module ${first.place} fell from ${from}` : `${falls.length} modules fell, module ${first.place} from ${from}`;
  return areTenths ? `${what}, about a tenth: did a range or a point slip?` : `${what}, further than a module does. Is it so?`;
}
