/**
 * Where a job stands on the way to numbered modules: what is off and where, what stopped in the middle, each layer with what can be
 * reached once it is off, what moves to an exchange pack. Derived from the state; never stored.
 */
import { findGloveNeed, type GloveNeed } from '../isolate/gloves.ts';
import { sayTime } from '../isolate/proof.ts';
import { balanceLedger, countInPlace, listBackwards, type Balance, type PartBalance } from '../ledger/ledger.ts';
import { findLift, type LiftAnswer } from '../lift/niosh.ts';
import { applyFact, type Fact, type PackState } from '../pack/fact.ts';
import type { Fate, Layer, Part, Transfer, Zone } from '../pack/parts.ts';
import { linksOf, type Profile } from '../pack/profile.ts';
import { findJobExposure, LIVE_VOLT } from './exposure.ts';
import type { JobState, Mark } from './state.ts';

/** Parts of the profile, then those found in the work. */
export function knownParts(state: JobState, profile: Profile): readonly Part[] {
  return [...profile.parts, ...state.strip.added.map((a) => a.part)];
}

/** The ledger of a job. */
export function findLedger(state: JobState, profile: Profile): Balance {
  return balanceLedger(knownParts(state, profile), state.strip.moved, state.strip.leftOff);
}

export interface PlaceView {
  readonly place: Zone | Layer;
  readonly parts: readonly PartBalance[];
  /** Pieces that the profile counts there and that are still in. */
  readonly inPlace: number;
  readonly out: number;
  readonly owed: number;
  /** Everything that is counted there is off. */
  readonly isClear: boolean;
}

/** Zones or layers with what is off there. */
export function listPlaces(places: readonly (Zone | Layer)[], balance: Balance): PlaceView[] {
  return places.map((place) => {
    const parts = balance.parts.filter((b) => b.part.place === place.id);
    const total = (figure: (b: PartBalance) => number): number => parts.reduce((sum, b) => sum + figure(b), 0);
    const inPlace = total((b) => Math.max(0, countInPlace(b) ?? 0));
    return {
      place,
      parts,
      inPlace,
      out: total((b) => b.out),
      owed: total((b) => Math.max(0, b.owed)),
      isClear: parts.length > 0 && inPlace === 0,
    };
  });
}

export interface LayerView extends PlaceView {
  readonly place: Layer;
  readonly isOff: boolean;
  /** What can be reached, and what stands behind the covers, once this layer is off and those above it. */
  readonly reachableVolt: number;
  readonly behindVolt: number;
  readonly gloves: GloveNeed;
}

/** The layers of the pack, outermost first, each with what it lays bare. */
export function listLayers(state: JobState, profile: Profile, balance: Balance, now = Infinity): LayerView[] {
  const links = linksOf(profile);
  let pack: PackState = state.pack;
  let before = findJobExposure(state, profile, now).reachable.volt;
  return listPlaces(profile.layers, balance).map((view) => {
    const layer = view.place as Layer;
    const after = layer.fact ? applyFact(pack, layer.fact, links) : pack;
    const isOff = layer.fact ? isSo(pack, layer.fact, profile) : view.isClear;
    pack = after;
    const { reachable, behind } = findJobExposure({ ...state, pack }, profile, now);
    // while it comes off, the hands are at what was bare before and what is bare after
    const gloves = findGloveNeed(before, reachable.volt, LIVE_VOLT);
    before = reachable.volt;
    return { ...view, place: layer, isOff, reachableVolt: reachable.volt, behindVolt: behind.volt, gloves };
  });
}

export interface TransferView {
  readonly transfer: Transfer;
  readonly fate: Fate;
  /** Moved, or seen with the new pack, or left with the old one. */
  readonly isDone: boolean;
  readonly mark: Mark | null;
}

/** What moves, comes and stays when the whole pack is exchanged. */
export function listTransfers(state: JobState, profile: Profile): TransferView[] {
  return profile.transfer.map((transfer) => {
    const stated = state.strip.transfers[transfer.id];
    return { transfer, fate: stated?.fate ?? transfer.fate, isDone: stated?.isDone ?? false, mark: stated ?? null };
  });
}

/** The lift of the pack as one person would make it: why one must not. */
export function findPackLift(profile: Profile): LiftAnswer | null {
  const { horizontalCentimetre, verticalCentimetre, travelCentimetre, asymmetryDegree, coupling } = profile.lift;
  const found = findLift({
    ...{ horizontalCentimetre, verticalCentimetre, travelCentimetre, asymmetryDegree, coupling },
    ...{ loadKilogram: profile.massKilogram, liftsPerMinute: 0, durationHours: 1 },
  });
  return found.kind === 'answer' ? found.value : null;
}

export interface Interruption {
  /** Seconds since the last event. */
  readonly since: number;
  readonly lines: readonly string[];
}

/** A job that nobody touched for longer than this, in minutes, is told where it stands when it is opened again. */
const INTERRUPTED_MINUTE = 20;

/**
 * What to know on coming back to a job that stopped: what is off, which proof has lapsed, what is next. Null while work goes on.
 * @param now server time, epoch milliseconds
 * @param lapse why the last signed proof no longer stands; null where it stands or none was signed
 */
export function findInterruption(
  state: JobState,
  profile: Profile,
  balance: Balance,
  now: number,
  lapse: string | null,
): Interruption | null {
  const since = (now - Date.parse(state.lastAt)) / 1000;
  if (!(since > INTERRUPTED_MINUTE * 60) || state.strip.moved.length === 0) return null;
  const lines = [`Nothing was recorded for ${sayTime(since)}.`];
  const off = listPlaces([...profile.zones, ...profile.layers], balance).filter((p) => p.owed > 0);
  lines.push(
    off.length === 0
      ? 'Everything that came off is back or accounted for.'
      : `Off: ${off.map((p) => `${p.owed} at ${p.place.name}`).join(', ')}.`,
  );
  const absent = balance.parts.filter((b) => b.toOrder > 0);
  if (absent.length > 0) lines.push(`To order: ${absent.map((b) => `${b.toOrder} × ${b.part.name}`).join(', ')}.`);
  if (lapse !== null) lines.push(`The proof of dead no longer stands. ${lapse}`);
  lines.push(sayNext(state, profile, balance));
  return { since, lines };
}

function sayNext(state: JobState, profile: Profile, balance: Balance): string {
  const isGoingBack = state.stage === 'rebuild' || state.stage === 'refit';
  const last = isGoingBack ? listBackwards(balance)[0] : undefined;
  if (last) return `Next: ${last.owed} × ${last.part.name} back, ${last.part.where}.`;
  const places = state.pack.isOnBench ? profile.layers : profile.zones;
  const begun = listPlaces(places, balance).find((p) => p.inPlace > 0 && !isLayerOff(p.place, state, profile));
  const part = begun?.parts.find((b) => (countInPlace(b) ?? 0) > 0);
  if (begun && part) return `Next: ${part.part.name}, ${part.part.where} (${begun.place.name}).`;
  return state.pack.isOnBench ? 'Next: the modules.' : 'Next: lift the pack out.';
}

/** Whether stating the fact of a layer would change nothing; layers without one are off when all their parts are. */
function isLayerOff(place: Zone | Layer, state: JobState, profile: Profile): boolean {
  return 'fact' in place && place.fact !== null && isSo(state.pack, place.fact, profile);
}

function isSo(pack: PackState, fact: Fact, profile: Profile): boolean {
  return JSON.stringify(applyFact(pack, fact, linksOf(profile))) === JSON.stringify(pack);
}
