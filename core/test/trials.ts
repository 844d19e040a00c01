/**
 * Random work on a pack by two people with a device each: acts that wait, come late, are taken back and counted twice, clocks that are
 * off, answers that never came, words that the other passes on and nothing proves. At every step what each screen shows is held against the truth of what that screen can know.
 */
import { isDeepStrictEqual } from 'node:util';
import { gearPolicySchema } from '../src/gear/due.ts';
import { isolationPolicySchema } from '../src/isolate/policy.ts';
import { PROOF_ENTRIES } from '../src/isolate/proof.ts';
import type { DecideContext } from '../src/job/chapters/chapter.ts';
import { ACT_TRAITS, type Act, type JobEvent, type Said } from '../src/job/frame/acts.ts';
import { stampOf } from '../src/job/chapters/stamp.ts';
import { decide } from '../src/job/frame/decide.ts';
import { extend } from '../src/job/frame/fold.ts';
import { startState, type JobState } from '../src/job/frame/state.ts';
import { findStanding } from '../src/job/chapters/isolate/view.ts';
import { findJobExposure } from '../src/job/line/exposure.ts';
import { JobViewer, viewJob, type JobView } from '../src/job/line/view-job.ts';
import type { Fact } from '../src/pack/fact.ts';
import { provesCarSide } from '../src/pack/point.ts';
import { blockPlaces, type Profile } from '../src/pack/profile.ts';
import { createGenerator, type Generator } from '../src/random/generator.ts';
import { DEFAULT_POLICY } from '../src/shop/act.ts';
import { GEAR, SHIPPED, shippedProfile } from './job-fixture.ts';
import { areContactorsShut, carVolt, isCertainlyAfter, outletVolt, piecesAfter, seeAfter, trueVolt, worstVolt, type Deed, type Hidden, type Known, type Sight, type Word } from './truth.ts'; // prettier-ignore

const START = Date.UTC(2026, 4, 4, 8);
const SECOND = 1000;
/** How many of the words that may be passed on are. */
const PASSED = 0.06;

/** Something that was done and said: by which device, when in truth, what of it a hand did. */
interface Done {
  readonly commandId: string;
  readonly device: number;
  readonly trueAt: number;
  readonly deed: Deed;
  readonly event: Omit<JobEvent, 'number'>;
  /** Another act that this one takes back. */
  readonly takesBack: string | null;
  /** When the server kept it; null while it waits. */
  readonly keptAt: number | null;
}

interface Device {
  readonly id: string;
  readonly by: string;
  /** What its clock is off, in milliseconds. */
  readonly offset: number;
  readonly isClockSure: boolean;
  readonly viewer: JobViewer;
  turn: number;
  waiting: Done[];
}

export interface Below {
  readonly profileId: string;
  readonly seed: number;
  readonly step: number;
  readonly shown: number;
  readonly truth: number;
  readonly who: string;
  readonly acts: readonly string[];
}

export interface Trials {
  readonly states: number;
  readonly below: readonly Below[];
  /** Steps in which a proof of dead stood. */
  readonly proven: number;
  /** What is shown over what is true, on average. */
  readonly meanExcess: number;
  readonly shouting: Shouting;
}

/** What is shown, held against the worst world that the record honestly allows; sampled. */
export interface Shouting {
  samples: number;
  /** Volts above that world, summed. */
  aboveWorst: number;
  /** Samples at 60 V or more, shown and in that world. */
  shownLive: number;
  worstLive: number;
  /** Shown above the truth with no cause named for it: seed, step, volts shown and true. */
  uncaused: string[];
  causes: Map<string, number>;
}

/** Runs until at least so many states of a screen were compared. */
/** @param isAnswered somebody answers truly whatever a screen asks, all the time */
export function runTrials(states: number, firstSeed = 1, mostBelow = 3, isAnswered = false): Trials {
  const profiles = SHIPPED.map(shippedProfile);
  let [seen, proven, excess] = [0, 0, 0];
  const shouting = noShouting();
  const below: Below[] = [];
  for (let seed = firstSeed; seen < states && below.length < mostBelow; seed++) {
    const workshop = new Workshop(profiles[seed % profiles.length] as Profile, seed, shouting, isAnswered);
    workshop.run(40);
    seen += workshop.compared;
    proven += workshop.proven;
    excess += workshop.excess;
    below.push(...workshop.below);
  }
  return { states: seen, below, proven, meanExcess: excess / Math.max(1, seen), shouting };
}

export class Workshop {
  readonly below: Below[] = [];
  compared = 0;
  proven = 0;
  excess = 0;
  readonly #profile: Profile;
  readonly #seed: number;
  readonly #random: Generator;
  readonly #hidden: Hidden;
  readonly #moduleIds: readonly string[];
  readonly #devices: readonly Device[];
  readonly #kept: Done[] = [];
  /** Passed on by the other, and to be answered for. */
  #passed: Done[] = [];
  readonly #drains: { trueAt: number; deed: Deed }[] = [];
  readonly #log: string[] = [];
  #state: JobState;
  #now = START;
  #step = 0;
  #sweepId: string | null = null;

  constructor(
    profile: Profile,
    seed: number,
    readonly shouting = noShouting(),
    readonly isAnswered = false,
  ) {
    this.#profile = profile;
    this.#seed = seed;
    this.#random = createGenerator(seed * 7919);
    const { nominalVolt, maximumModuleVolt } = profile.moduleType;
    this.#moduleIds = Array.from({ length: profile.moduleCount }, (_, i) => `m${i + 1}`);
    const volts = [...this.#moduleIds, 'S-1', 'S-2', 'S-3'].map((id): [string, number] => {
      const volt = nominalVolt * 0.8 + this.#random.next() * (maximumModuleVolt - nominalVolt * 0.8);
      return [id, id.startsWith('m') && this.#chance(0.02) ? -volt : volt];
    });
    this.#hidden = { isStuck: this.#chance(0.3), linkShare: this.#pick([0, 0.4, 1]), moduleVolts: new Map(volts) };
    const isWild = this.#chance(0.3);
    this.#devices = ['om', 'ts'].map((by, i) => ({
      ...{ id: `device-${i}`, by, turn: 0, waiting: [], viewer: new JobViewer() },
      isClockSure: !(isWild && i === 1),
      offset: isWild && i === 1 ? (this.#random.next() - 0.5) * 4 * 3_600_000 : (this.#random.next() - 0.5) * 3 * SECOND,
    }));
    this.#state = startState(profile);
    this.#open();
    this.#findReversed();
  }

  /** The kept state, for whoever looks into a case. */
  look(): JobState {
    return this.#state;
  }

  run(steps: number): void {
    for (this.#step = 1; this.#step <= steps && this.below.length === 0; this.#step++) {
      this.#now += this.#pick([0.5, 2, 7, 30, 90]) * SECOND;
      const device = this.#pick(this.#devices);
      this.#doSomething(device);
      for (const other of this.#devices) if (this.#chance(0.4)) this.#send(other, 1 + this.#random.below(other.waiting.length + 1));
      if (this.#passed.length > 0 && this.#chance(0.1)) this.#confirm();
      if (this.isAnswered) this.#answer();
      this.#compare();
    }
  }

  #open(): void {
    const { id, version } = this.#profile;
    this.#keepAct({
      type: 'job.opened',
      body: {
        ...{ number: 1, profileId: id, profileVersion: version, policyVersion: 1, kind: 'wholeRepair' },
        ...{ vehicle: { id: 'v', hash: '0'.repeat(64) }, customer: null, comebackOf: null, moduleIds: [...this.#moduleIds] },
      },
    });
  }

  /** A module that stands the wrong way round was found with a meter before: nothing else could tell. */
  #findReversed(): void {
    const reversed = this.#moduleIds.flatMap((id, i) => ((this.#hidden.moduleVolts.get(id) ?? 0) < 0 ? [i + 1] : []));
    const [device] = this.#devices;
    if (reversed.length === 0 || !device) return;
    this.#beginSweep();
    for (const place of reversed) {
      const moduleId = `m${place}`;
      this.#now += SECOND;
      this.#say(device, reading(this.#sweepId ?? '', place, moduleId, this.#hidden.moduleVolts.get(moduleId) ?? 0));
    }
    this.#send(device, 1000);
  }

  #beginSweep(): void {
    const [device] = this.#devices;
    if (!device) return;
    const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all' as const, resolution: 0.001 };
    this.#sweepId = this.#say(device, { type: 'sweep.started', body: { kind: 'openCircuit', ...how } });
    this.#send(device, 1000);
  }

  #keepAct(act: Act): void {
    const at = new Date(this.#now).toISOString();
    this.#take({ commandId: 'open', by: 'om', at, deviceAt: at, ...act });
  }

  #take(event: Omit<JobEvent, 'number'>): void {
    this.#state = extend(this.#state, this.#profile, [{ number: this.#state.head + 1, ...event } as JobEvent]);
  }

  /** Says something of a device: it waits there until it is sent. */
  #say(device: Device, act: Act, deed: Deed = { kind: 'nothing' }, takesBack: string | null = null): string {
    const commandId = `c${device.id.at(-1)}-${device.turn}`;
    const deviceAt = new Date(this.#now + device.offset).toISOString();
    const word = { id: device.id, turn: device.turn++, isClockSure: device.isClockSure };
    const at = new Date(this.#now).toISOString();
    device.waiting.push({ commandId, device: this.#devices.indexOf(device), trueAt: this.#now, deed, takesBack, keptAt: null, event: { commandId, by: device.by, at, deviceAt, device: word, ...act } }); // prettier-ignore
    this.#log.push(`${this.#step} ${device.id} ${JSON.stringify(act)}`);
    return commandId;
  }

  #fact(device: Device, fact: Fact, deed: Deed): void {
    const counts = this.#pick(['all', 'asCounted', undefined] as const);
    this.#say(device, { type: 'fact.stated', body: { stage: 'open', fact, ...(counts ? { counts } : {}) } }, deed);
  }

  /** The server keeps the first acts of a device: facts ahead of permits, save what takes back a permit that waits. */
  #send(device: Device, count: number): void {
    const permits = new Set(device.waiting.flatMap((d) => (isFact(d) ? [] : [d.commandId])));
    const isAhead = (d: Done): boolean => isFact(d) && !permits.has(d.takesBack ?? '');
    const going = [...device.waiting.filter(isAhead), ...device.waiting.filter((d) => !isAhead(d))].slice(0, count);
    device.waiting = device.waiting.filter((d) => !going.includes(d));
    for (const done of going) {
      const { commandId, by, deviceAt, device: word, at: _, ...act } = done.event;
      const at = new Date(this.#now).toISOString();
      if (word && this.#mayBePassed(done.event.type) && this.#chance(PASSED)) {
        this.#pass(done, { commandId, deviceAt, device: word });
        continue;
      }
      const stamp = stampOf({ number: this.#state.head + 1, by, at, deviceAt, device: word });
      const decided = decide(this.#state, act as Act, { ...this.#context(by), stamp });
      if (decided.kind === 'refused') {
        this.#log.push(`${this.#step} refused ${commandId}: ${decided.message}`);
        continue;
      }
      for (const one of decided.value) this.#take({ commandId, by, at, deviceAt, ...(word ? { device: word } : {}), ...one });
      this.#kept.push({ ...done, keptAt: this.#now });
      this.#log.push(`${this.#step} kept ${commandId}`);
    }
  }

  /**
   * A reading that nothing proves counts for nothing: that one was taken is what the trials of readings rest on. Where all is answered,
   * everybody has said what they said themselves.
   */
  #mayBePassed(type: Act['type']): boolean {
    return this.#step > 0 && !this.isAnswered && !type.startsWith('reading') && ACT_TRAITS[type].isPassedOn;
  }

  /** The other sends it, and nothing proves that its author said it: it was done all the same, and sometimes the author says so later. */
  #pass(done: Done, how: Pick<Said, 'commandId' | 'deviceAt' | 'device'>): void {
    const { by: of, type, body } = done.event;
    const by = of === 'om' ? 'ts' : 'om';
    const said = { ...how, type, version: ACT_TRAITS[type].version, body: body as Record<string, unknown> };
    const act: Act = { type: 'word.passed', body: { of, said } };
    this.#answerFor(act, by, how.commandId, [done]);
    if (this.#chance(0.6)) this.#passed.push(done);
  }

  /** Authors answer for what was passed on in their names: it is so. */
  #confirm(): void {
    for (const by of ['om', 'ts']) {
      const own = this.#passed.filter((d) => d.event.by === by);
      const waits = new Set(this.#state.passed.map((p) => p.said.commandId));
      const commandIds = own.map((d) => d.commandId).filter((id) => waits.has(id));
      this.#passed = this.#passed.filter((d) => !own.includes(d));
      if (commandIds.length > 0)
        this.#answerFor({ type: 'word.confirmed', body: { commandIds, areSo: true } }, by, `y${this.#state.head}`, []);
    }
  }

  #answerFor(act: Act, by: string, commandId: string, done: readonly Done[]): void {
    const at = new Date(this.#now).toISOString();
    const decided = decide(this.#state, act, this.#context(by));
    if (decided.kind === 'refused') {
      this.#log.push(`${this.#step} refused ${commandId}: ${decided.message}`);
      return;
    }
    for (const { asSaid, ...one } of decided.value) this.#take({ commandId, by, at, deviceAt: at, ...asSaid, ...one });
    this.#kept.push(...done.map((d) => ({ ...d, keptAt: this.#now })));
    this.#log.push(`${this.#step} ${act.type} ${commandId} by ${by}`);
  }

  #context(by: string): DecideContext {
    return {
      ...{ profile: this.#profile, by, role: 'lead', whyNotFree: () => null, whyNotSign: null },
      ...{ shelfCapacityAh: () => null, provenRange: () => null, now: this.#now },
      isolation: isolationPolicySchema.parse({ leastWaitMinute: 0 }),
      gearPolicy: gearPolicySchema.parse({}),
      findGear: (id) => GEAR.find((g) => g.gearId === id) ?? null,
    };
  }

  #doSomething(device: Device): void {
    const { plug, frames, bars, moduleCount, parts, moduleType } = this.#profile;
    const flip = this.#chance(0.5);
    switch (this.#random.below(22)) {
      case 0: {
        this.#fact(device, { kind: 'plug', isIn: flip }, { kind: 'plug', isIn: flip });
        return;
      }
      case 1: {
        this.#fact(device, { kind: 'twelveVolt', isOff: flip }, { kind: 'twelveVolt', isOff: flip });
        return;
      }
      case 2: {
        const are = this.#pick(['closed', 'open', 'insulated'] as const);
        this.#fact(device, { kind: 'connectors', are }, { kind: 'cables', are });
        return;
      }
      case 3: {
        this.#fact(device, { kind: 'case', isOpen: flip }, { kind: 'case', isOpen: flip });
        return;
      }
      case 4: {
        const ofCovers = parts.flatMap((p) => p.effects).flatMap((e) => (e.kind === 'bares' && e.over ? [e.over] : []));
        const sides = [...frames.map((f) => f.links), ...ofCovers];
        const over = sides.length > 0 && this.#chance(0.5) ? [...this.#pick(sides)] : undefined;
        this.#fact(device, { kind: 'covers', areOff: flip, over }, { kind: 'covers', areOff: flip, ...(over && { over }) });
        return;
      }
      case 5: {
        this.#fact(device, { kind: 'harness', isUnplugged: flip }, { kind: 'harness', isOut: flip });
        return;
      }
      case 6: {
        if (frames.length === 0) {
          this.#bar(device, bars, flip);
          return;
        }
        const frame = this.#pick(frames);
        this.#fact(device, { kind: 'frame', frame: frame.id, isOff: flip }, { kind: 'links', links: frame.links, areOpen: flip });
        return;
      }
      case 7: {
        this.#bar(device, bars, flip);
        return;
      }
      case 8: {
        // said of one link of a frame that opens as one: no hand can do it with the frame on
        const link = 1 + this.#random.below(moduleCount - 1);
        if (link === plug.opensLink) return;
        const held = frames.some((f) => f.opensAsOne && f.links.includes(link));
        this.#fact(
          device,
          { kind: 'links', links: [link], areOpen: flip },
          held && flip ? { kind: 'nothing' } : { kind: 'links', links: [link], areOpen: flip },
        );
        return;
      }
      case 9: {
        this.#fact(device, { kind: 'pack', isOnBench: flip }, { kind: 'pack', isOnBench: flip });
        return;
      }
      case 10: {
        if (this.#chance(0.4)) {
          this.#fact(device, { kind: 'outletPosts', areBare: flip }, { kind: 'outlets', areBare: flip });
          return;
        }
        const are = this.#pick(['takenOut', 'takenOut', 'unknown', 'open', 'shut'] as const);
        this.#fact(device, { kind: 'contactors', are }, { kind: 'relays', areOut: are === 'takenOut', areShut: are === 'shut' });
        return;
      }
      case 11: {
        const volt = flip ? null : 100 + this.#random.below(300);
        this.#fact(device, { kind: 'charger', volt }, { kind: 'charger', volt });
        if (volt !== null) this.#drains.push({ trueAt: this.#now, deed: { kind: 'nothing' } });
        return;
      }
      case 12: {
        // what a charge raises is said once it is over
        const share = this.#random.next();
        this.#fact(device, { kind: 'charged' }, { kind: 'charge', share });
        return;
      }
      case 13: {
        const place = 1 + this.#random.below(moduleCount);
        const moduleId = this.#pick([null, 'S-1', 'S-2', 'S-3', `m${1 + this.#random.below(moduleCount)}`]);
        this.#fact(device, { kind: 'module', place, moduleId, isTurned: false }, { kind: 'module', place, moduleId });
        return;
      }
      case 14: {
        this.#proof(device);
        return;
      }
      case 15: {
        this.#count(
          device,
          parts.filter((p) => p.effects.length > 0 && p.count !== null),
        );
        return;
      }
      case 16: {
        this.#wake(device);
        return;
      }
      case 17: {
        this.#measureRun(device);
        return;
      }
      case 18: {
        this.#bringFile(device);
        return;
      }
      default: {
        this.#read(device, moduleType);
        return;
      }
    }
  }

  /** Something that only a live car shows; some of it charges the pack. */
  #wake(device: Device): void {
    const share = this.#random.next();
    const isCharged = this.#chance(0.5);
    const wake = { readyLight: true, lampsOut: true, engine: null, chargePercent: null, note: '' } as const;
    const act = this.#pick<Act>([
      { type: 'spark.seen', body: { spark: this.#pick(['none', 'small', 'strong'] as const) } },
      { type: 'wake.tried', body: { ...wake, charging: isCharged ? 'takes' : null } },
      { type: 'energy.lent', body: { minute: 8, toPercent: null } },
      {
        type: 'road.driven',
        body: { minute: 10, spreadLoadVolt: null, spreadChargeVolt: null, highestCelsius: null, isGood: true, note: '' },
      },
      this.#scan(),
    ]);
    const charges = act.type === 'energy.lent' || act.type === 'road.driven' || (act.type === 'wake.tried' && isCharged);
    this.#say(device, act, { kind: 'awake', share: charges ? share : 0 });
  }

  /** Scanned in the car: blocks as they are, some of them. */
  #scan(): Act {
    const volts = this.#voltsNow();
    const places = blockPlaces(this.#profile.blocks);
    const blockVolts = places.map(({ from, to }) => sumOf(volts.slice(from - 1, to)));
    return {
      type: 'car.scanned',
      body: {
        ...{ moment: 'afterRepair', reader: 'R', readerVersion: '1', isSimulated: false, codes: [], readiness: null, celsius: [] },
        ...{ blockVolts, packVolt: this.#chance(0.5) ? sumOf(volts) : null, ampere: null, chargePercent: null },
      },
    };
  }

  /** What stands at each place now; null where nothing does or nobody knows. */
  #voltsNow(): (number | null)[] {
    const deeds = this.#allDeeds();
    return placesAfter(this.#moduleIds, deeds).map((id) =>
      id === null || id === 'full' ? null : voltAfter(this.#hidden, this.#profile, id, deeds),
    );
  }

  /** A meter across a run of modules: as it is, and so no more than the highest that may stand there. */
  #measureRun(device: Device): void {
    const { moduleCount } = this.#profile;
    const from = 1 + this.#random.below(moduleCount);
    const to = from + this.#random.below(moduleCount - from + 1);
    const volt = sumOf(this.#voltsNow().slice(from - 1, to));
    if (volt !== null) this.#say(device, { type: 'half.measured', body: { from, to, volt: Math.abs(volt) } });
  }

  /** A table of voltages that were measured some time ago; sometimes nobody says when. */
  #bringFile(device: Device): void {
    const at = this.#now - this.#random.below(3) * 90 * SECOND;
    const isKnown = (d: Done): boolean => d.trueAt <= at;
    const deeds = this.#deedsOf(this.#kept.concat(...this.#devices.map((d) => d.waiting)).filter(isKnown), at);
    const readings = placesAfter(this.#moduleIds, deeds).flatMap((id, i) =>
      id === null || id === 'full' || this.#chance(0.5)
        ? []
        : [{ place: i + 1, quantity: 'openCircuitVolt' as const, value: voltAfter(this.#hidden, this.#profile, id, deeds) }],
    );
    if (readings.length === 0) return;
    const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all' as const, resolution: 0.001 };
    const measured = this.#chance(0.3) ? 'unsaid' : new Date(at).toISOString();
    const sweepId = `f${device.id}-${device.turn}`;
    const body = { fileName: 'bench.csv', measured, sweeps: [{ sweepId, kind: 'openCircuit' as const, ...how, readings }] };
    this.#say(device, { type: 'readings.imported', body });
  }

  #bar(device: Device, bars: Profile['bars'], areOpen: boolean): void {
    if (bars.length === 0) return;
    const { link } = this.#pick(bars);
    this.#fact(device, { kind: 'links', links: [link], areOpen }, { kind: 'links', links: [link], areOpen });
  }

  /** Pieces come off or go back, as many as the hand has; sometimes it was mistyped and is taken back at once. */
  #count(device: Device, parts: Profile['parts']): void {
    const part = this.#pick(parts);
    const total = part.count ?? 1;
    const isOut = this.#chance(0.5);
    const count = 1 + this.#random.below(total);
    const [from, to] = isOut ? ([{ kind: 'inPlace' }, { kind: 'onPart' }] as const) : ([{ kind: 'onPart' }, { kind: 'inPlace' }] as const);
    const was = piecesAfter(this.#profile, this.#hidden, this.#moduleIds, this.#allDeeds()).get(part.id) ?? 0;
    const off = isOut ? was + count : was - count;
    // a hand can only take off what is on, and put back what is off
    if (off < 0 || off > total) return;
    const act: Act = { type: 'part.moved', body: { stage: 'strip', partId: part.id, count, from, to, condition: 'good' } };
    const deed: Deed = { kind: 'pieces', partId: part.id, off: isOut ? count : -count };
    if (this.#chance(0.25)) {
      // it was the wrong part: until that is known, the record has it so
      const commandId = this.#say(device, act, deed);
      this.#say(device, { type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } }, { kind: 'nothing' }, commandId);
      return;
    }
    this.#say(device, act, deed);
  }

  #read(device: Device, { nominalVolt }: Profile['moduleType']): void {
    if (this.#sweepId === null) {
      this.#beginSweep();
      return;
    }
    const deeds = this.#allDeeds();
    const read = new Map<number, string>();
    for (let i = 0; i < 4; i++) {
      const place = 1 + this.#random.below(this.#profile.moduleCount);
      const at = placesAfter(this.#moduleIds, deeds)[place - 1] ?? null;
      if (at === null || at === 'full') continue;
      const value = voltAfter(this.#hidden, this.#profile, at, deeds);
      // a second look by another person may be wrong, and then it is below
      const isSecond = this.#chance(0.1);
      const sweepId = this.#sweepId;
      const commandId = this.#say(device, reading(sweepId, place, at, value));
      read.set(place, commandId);
      if (value > 0 && this.#chance(0.1))
        this.#say(device, { type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } }, { kind: 'nothing' }, commandId);
      else if (isSecond && value > 0) {
        // it is a second look: the first is known to everybody who knows of it
        this.#send(device, 1000);
        const other = this.#devices.find((d) => d !== device) as Device;
        this.#say(other, reading(sweepId, place, at, Math.max(nominalVolt, value - 0.3)));
      }
    }
    if (read.size > 1 && this.#chance(0.3)) this.#mendWrongly(device, this.#sweepId, [...read]);
  }

  /** Readings that were right are put to each other's modules, or one is said to be another's; sometimes that is taken back. */
  #mendWrongly(device: Device, sweepId: string, read: readonly (readonly [number, string])[]): void {
    const [[one, first], [two, second]] = read as [[number, string], [number, string]];
    const isSwap = this.#chance(0.5);
    const moves = [{ commandId: first, from: one, to: two }, ...(isSwap ? [{ commandId: second, from: two, to: one }] : [])];
    const body = { sweepId, quantity: 'openCircuitVolt' as const, moves, anew: isSwap ? [] : [one] };
    const commandId = this.#say(device, { type: 'readings.moved', body });
    if (this.#chance(0.3))
      this.#say(device, { type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } }, { kind: 'nothing' }, commandId);
  }

  /** A whole proof at the car side, taken truly: everything sent, the wait kept, six readings, signed if the server lets it. */
  #proof(device: Device): void {
    const { isolation } = this.#profile;
    for (const d of this.#devices) this.#send(d, 1000);
    if (!this.#state.pack.isKeyAway) this.#fact(device, { kind: 'key', isAway: true }, { kind: 'nothing' });
    if (this.#state.pack.isPlugIn) this.#fact(device, { kind: 'plug', isIn: false }, { kind: 'plug', isIn: false });
    if (!this.#state.pack.isTwelveVoltOff) this.#fact(device, { kind: 'twelveVolt', isOff: true }, { kind: 'twelveVolt', isOff: true });
    for (const { id } of isolation.extraSteps) this.#say(device, { type: 'step.done', body: { stepId: id, note: '' } });
    this.#say(device, { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } });
    this.#send(device, 1000);
    this.#now += 16 * 60 * SECOND;
    this.#drains.push({ trueAt: this.#now, deed: { kind: 'drained' } });
    const known = { lowVolt: 9, highVolt: 16 };
    const { isOnBench, areBare, postVolt } = this.#posts();
    const point = isOnBench ? { at: 'outletPosts' as const, label: 'posts' } : isolation.point;
    const posts = isOnBench ? 'outlet' : 'car';
    const proofId = this.#say(device, { type: 'proof.started', body: { meterId: 'M-02', source: 'battery', sourceId: null, point, known, limitVolt: 30, resolutionVolt: 0.1 } }, { kind: 'probed', posts, areAtHand: true }); // prettier-ignore
    for (const entry of PROOF_ENTRIES) {
      this.#now += 3 * SECOND;
      const volt = entry.startsWith('known') ? 12.4 : postVolt;
      this.#say(device, { type: 'proof.read', body: { proofId, entry, volt, isFromMeter: false } });
    }
    this.#send(device, 1000);
    // nobody can lay a meter to posts that are not there
    if (!areBare) return;
    this.#say(
      device,
      { type: 'proof.signed', body: { proofId, until: null, breakMinute: 60 } },
      { kind: 'probed', posts, areAtHand: false },
    );
    this.#send(device, 1000);
  }

  /** Where the meter is laid, and what it reads there. */
  #posts(): { isOnBench: boolean; areBare: boolean; postVolt: number } {
    const deeds = this.#allDeeds();
    const last = deeds.findLast((d) => d.kind === 'pack');
    const cables = deeds.findLast((d) => d.kind === 'cables');
    // in the car the meter is laid where cables and pack are one: before they are off
    const isOnBench = last?.kind === 'pack' && last.isOnBench;
    const isOff = !isOnBench && cables?.kind === 'cables' && cables.are === 'insulated';
    const read = isOnBench ? outletVolt : carVolt;
    const volt = read(this.#profile, this.#hidden, this.#moduleIds, deeds);
    // a parted string shows nothing at its ends: that a proof tells shut contactors all the same is how proofs are taken here
    const isShut = areContactorsShut(this.#profile, this.#hidden, this.#moduleIds, deeds);
    return { isOnBench, areBare: !isOff, postVolt: isShut ? Math.max(60, volt) : volt };
  }

  #allDeeds(): Deed[] {
    return this.#deedsOf(this.#kept.concat(...this.#devices.map((d) => d.waiting)));
  }

  /** What was really done, of the acts known, in the order of the clock on the wall. */
  #deedsOf(known: readonly Done[], until = Infinity): Deed[] {
    const back = new Set(known.flatMap((d) => d.takesBack ?? []));
    return [...known.filter((d) => !back.has(d.commandId)), ...this.#drains.filter((d) => d.trueAt <= until)]
      .map((d, i) => ({ d, i }))
      .sort((a, b) => a.d.trueAt - b.d.trueAt || a.i - b.i)
      .map(({ d }) => d.deed);
  }

  #compare(): void {
    const now = this.#now;
    for (const device of this.#devices) {
      const waiting = device.waiting.map((d): JobEvent => ({ number: 0, ...d.event }) as JobEvent);
      const view = device.viewer.view(this.#state, waiting, this.#profile, DEFAULT_POLICY, now);
      const { exposure, highestVolt } = view;
      if (this.#step % 8 === 0) this.#holdWhole(device.id, view, viewJob(this.#state, waiting, this.#profile, DEFAULT_POLICY, now));
      this.#hold(device.id, exposure.reachable.volt, this.#kept.concat(device.waiting));
      if (this.#step % 7 === 3) this.#weigh(view, this.#kept.concat(device.waiting));
      if (highestVolt < exposure.reachable.volt - 1e-9) this.#note('highest possible', highestVolt, exposure.reachable.volt);
    }
    const kept = findJobExposure(this.#state, this.#profile, now);
    if (this.#state.isolate.proofs.some((p) => p.signed && !p.lapsed)) this.proven++;
    this.#hold('a third screen', kept.reachable.volt, this.#kept);
  }

  /** A view that went on from the one before is the one that is made from nothing. */
  #holdWhole(who: string, went: JobView, whole: JobView): void {
    if (!isDeepStrictEqual([went.exposure, went.trace, went.state], [whole.exposure, whole.trace, whole.state]))
      this.#note(`${who}: went on otherwise`, went.exposure.reachable.volt, whole.exposure.reachable.volt);
  }

  #hold(who: string, shown: number, known: readonly Done[]): void {
    const truth = trueVolt(this.#profile, this.#hidden, this.#moduleIds, this.#deedsOf(known));
    this.compared++;
    this.excess += Math.max(0, shown - truth);
    // what a standing proof measured is as good as its limit
    if (shown < truth - 1e-6) this.#note(who, shown, truth);
  }

  /** Everything is sent, and whatever the screen asks is answered by who looks. */
  #answer(): void {
    const [device] = this.#devices;
    if (!device) return;
    this.#answerByPress(device);
    const { questions, state } = viewJob(this.#state, [], this.#profile, DEFAULT_POLICY, this.#now);
    // what nobody sees a meter says: the car is made dead for it, as that is asked for, a source taken off first
    if (!questions.some((q) => q.cause === 'contactors') || findStanding(state, this.#now)) return;
    if (state.pack.chargerVolt !== null) this.#fact(device, { kind: 'charger', volt: null }, { kind: 'charger', volt: null });
    this.#proof(device);
    this.#answerByPress(device);
  }

  #answerByPress(device: Device): void {
    for (let round = 0; round < 4; round++) {
      for (const d of this.#devices) this.#send(d, 1000);
      const { questions } = viewJob(this.#state, [], this.#profile, DEFAULT_POLICY, this.#now);
      const sight = seeAfter(this.#profile, this.#hidden, this.#moduleIds, this.#allDeeds());
      const said = questions.flatMap(({ answers }) => answers.find(({ act }) => isSeen(act, sight)) ?? []);
      if (said.length === 0) return;
      this.#now += SECOND * 10;
      for (const { act } of said)
        this.#say(device, act, act.type === 'fact.stated' ? deedOf(act.body.fact, this.#profile) : { kind: 'nothing' });
    }
  }

  /** Holds what a screen shows against the worst world that its words honestly allow. */
  #weigh({ state, exposure: { reachable, excess } }: JobView, known: readonly Done[]): void {
    const { shouting } = this;
    const shown = reachable.volt;
    const truth = trueVolt(this.#profile, this.#hidden, this.#moduleIds, this.#deedsOf(known));
    const worst = Math.max(truth, worstVolt(this.#profile, this.#moduleIds, this.#wordsOf(known), this.#knownOf(state, known)));
    shouting.samples++;
    shouting.aboveWorst += Math.max(0, shown - worst);
    if (shown >= 60) shouting.shownLive++;
    if (worst >= 60) shouting.worstLive++;
    if (shown > truth + 0.1 && excess.length === 0)
      shouting.uncaused.push(`seed ${this.#seed}, step ${this.#step}, ${shown} V shown, ${truth} V true`);
    for (const { cause, volt } of excess) shouting.causes.set(cause, (shouting.causes.get(cause) ?? 0) + volt);
  }

  #wordsOf(known: readonly Done[]): Word[] {
    const back = new Set(known.flatMap((d) => d.takesBack ?? []));
    return known
      .filter((d) => !back.has(d.commandId))
      .map(({ deed, device, trueAt, keptAt, event }) => ({
        ...{ deed, device, trueAt, keptAt, turn: event.device?.turn ?? 0 },
        saidAt: event.device?.isClockSure ? Date.parse(event.deviceAt) : null,
      }));
  }

  /** What the worst world may count on: proofs as they stand, and modules that were read certainly after every charge. */
  #knownOf(state: JobState, known: readonly Done[]): Known {
    const standing = findStanding(state, this.#now);
    const isLower = (event: Done['event']): boolean => event.type === 'act.withdrawn';
    const words = this.#wordsOf(known);
    const charges = words.filter(
      ({ deed }) => (deed.kind === 'awake' && deed.share > 0) || deed.kind === 'charge' || deed.kind === 'charger',
    );
    const reads = this.#readsOf(known);
    const voided = new Map<string, number>();
    for (const [i, d] of known.entries()) {
      if (isLower(d.event)) for (const r of reads) if (r.commandId === d.takesBack && !r.isMoved) voided.set(r.moduleId, i);
      // what was done to a module while it was away nobody said
      if (d.deed.kind === 'module' && d.deed.moduleId !== null) voided.set(d.deed.moduleId, i);
    }
    return {
      isCarProven: standing !== null && provesCarSide(standing.proof.point),
      isOutletProven: standing?.proof.signed?.isOutletToo ?? false,
      volt: (moduleId) => {
        const own = reads.filter(
          (r) => r.moduleId === moduleId && r.index > (voided.get(moduleId) ?? -1) && !known.some((d) => d.takesBack === r.commandId),
        );
        const counting = own.filter((r) => charges.every((c) => isCertainlyAfter(r.word, c)));
        const last = counting.filter((r) => !counting.some((o) => o !== r && isCertainlyAfter(o.word, r.word) && !o.isMoved));
        return last.length === 0 ? null : Math.max(this.#profile.moduleType.nominalVolt, ...last.map((r) => Math.abs(r.value)));
      },
    };
  }

  /** Readings as they stand in the acts, by module; of one that was put to another module both may be true. */
  #readsOf(known: readonly Done[]): Read[] {
    const words = new Map(known.map((d) => [d.commandId, this.#wordsOf([d])[0] as Word]));
    const reads: Read[] = [];
    for (const [index, { commandId, event: said }] of known.entries()) {
      const event = { number: 0, ...said } as JobEvent;
      const word = words.get(commandId) as Word;
      if (event.type === 'reading.taken' && event.body.moduleId !== null && event.body.quantity === 'openCircuitVolt')
        reads.push({ commandId, index, word, moduleId: event.body.moduleId, value: event.body.value, isMoved: false });
      if (event.type === 'readings.imported' && event.body.measured !== 'unsaid')
        for (const { place, value } of event.body.sweeps[0]?.readings ?? [])
          reads.push({ commandId, index, word: { ...word, saidAt: Date.parse(event.body.measured), device: 9 }, moduleId: `m${place}`, value, isMoved: false }); // prettier-ignore
      if (event.type === 'readings.moved')
        for (const { commandId: of, to } of event.body.moves) {
          const read = reads.find((r) => r.commandId === of);
          if (read) reads.push({ ...read, commandId, index, moduleId: `m${to}`, isMoved: true });
        }
    }
    return reads;
  }

  #note(who: string, shown: number, truth: number): void {
    const { id: profileId } = this.#profile;
    this.below.push({ profileId, seed: this.#seed, step: this.#step, shown, truth, who, acts: this.#log.slice(-60) });
  }

  #chance(share: number): boolean {
    return this.#random.next() < share;
  }

  #pick<T>(list: readonly T[]): T {
    return list[this.#random.below(list.length)] as T;
  }
}

/** Null where one of them is not known. */
function sumOf(volts: readonly (number | null)[]): number | null {
  return volts.reduce<number | null>((sum, v) => (sum === null || v === null ? null : sum + v), 0);
}

/** Whether somebody who looks sees it so. */
function isSeen(act: Act, sight: Sight): boolean {
  if (act.type !== 'fact.stated') return act.type === 'readings.confirmed';
  const { fact } = act.body;
  switch (fact.kind) {
    case 'connectors':
      return fact.are === sight.cables;
    case 'outletPosts':
      return fact.areBare === sight.areOutletsBare;
    case 'contactors':
      return fact.are === (sight.areRelaysOut ? 'takenOut' : sight.areContactorsShut ? 'shut' : 'unknown');
    case 'case':
      return fact.isOpen === sight.isCaseOpen;
    case 'covers':
      return (fact.over ?? []).every((k) => sight.uncovered.has(k) === fact.areOff);
    case 'harness':
      return fact.isUnplugged === sight.isHarnessOut;
    case 'links':
      return fact.links.every((k) => sight.open.has(k) === fact.areOpen);
    case 'pack':
      return fact.isOnBench === sight.isOnBench;
    case 'plug':
      return fact.isIn === sight.isPlugIn;
    case 'charger':
      return fact.volt === sight.charger;
    case 'module':
      return fact.moduleId === sight.at[fact.place - 1];
    default:
      return false;
  }
}

/** What a hand does that says a fact. */
function deedOf(fact: Fact, { frames }: Profile): Deed {
  switch (fact.kind) {
    case 'connectors':
      return { kind: 'cables', are: fact.are };
    case 'outletPosts':
      return { kind: 'outlets', areBare: fact.areBare };
    case 'contactors':
      return { kind: 'relays', areOut: fact.are === 'takenOut', areShut: fact.are === 'shut' };
    case 'case':
      return { kind: 'case', isOpen: fact.isOpen };
    case 'covers':
      return { kind: 'covers', areOff: fact.areOff, ...(fact.over && { over: fact.over }) };
    case 'harness':
      return { kind: 'harness', isOut: fact.isUnplugged };
    case 'frame':
      return { kind: 'links', links: frames.find((f) => f.id === fact.frame)?.links ?? [], areOpen: fact.isOff };
    case 'links':
      return { kind: 'links', links: fact.links, areOpen: fact.areOpen };
    case 'pack':
      return { kind: 'pack', isOnBench: fact.isOnBench };
    case 'plug':
      return { kind: 'plug', isIn: fact.isIn };
    case 'charger':
      return { kind: 'charger', volt: fact.volt };
    case 'module':
      return { kind: 'module', place: fact.place, moduleId: fact.moduleId };
    default:
      return { kind: 'nothing' };
  }
}

/** A voltage that somebody read of a module. */
interface Read {
  readonly commandId: string;
  readonly index: number;
  readonly word: Word;
  readonly moduleId: string;
  readonly value: number;
  readonly isMoved: boolean;
}

function noShouting(): Shouting {
  return { samples: 0, aboveWorst: 0, shownLive: 0, worstLive: 0, uncaused: [], causes: new Map() };
}

function isFact({ event }: Done): boolean {
  return ACT_TRAITS[event.type].nature === 'fact';
}

function reading(sweepId: string, place: number, moduleId: string, value: number): Act {
  return { type: 'reading.taken', body: { sweepId, place, moduleId, quantity: 'openCircuitVolt', value } };
}

function placesAfter(moduleIds: readonly string[], deeds: readonly Deed[]): (string | null)[] {
  let at: (string | null)[] = [...moduleIds];
  for (const deed of deeds)
    if (deed.kind === 'module') {
      const { place, moduleId } = deed;
      at = at.map((id, i) => (i === place - 1 ? moduleId : id !== null && id === moduleId ? 'full' : id));
    }
  return at;
}

function voltAfter(hidden: Hidden, { moduleType }: Profile, moduleId: string, deeds: readonly Deed[]): number {
  let volt = hidden.moduleVolts.get(moduleId) ?? 0;
  for (const deed of deeds)
    if (deed.kind === 'charge' || deed.kind === 'awake')
      volt = Math.sign(volt) * (Math.abs(volt) + deed.share * (moduleType.maximumModuleVolt - Math.abs(volt)));
  return volt;
}
