/** What came off and where it is, what moves to an exchange pack, the lift. Derived from the state; never stored. */
import { balanceLedger, countInPlace, type Balance, type PartBalance } from '../../../ledger/ledger.ts';
import { findLift, type LiftAnswer, type LiftInput } from '../../../lift/niosh.ts';
import type { Fate, Layer, Transfer, Zone } from '../../../pack/parts.ts';
import type { Profile } from '../../../pack/profile.ts';
import type { Mark } from '../chapter.ts';
import { knownParts, type StripState } from './state.ts';

/** What of a job its ledger is seen by. */
export interface StripScene {
  readonly strip: StripState;
}

/** The ledger of a job. */
export function findLedger(state: StripScene, profile: Profile): Balance {
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

/** The place to go on to: the next one after it with pieces in, from the first again after the last; null where all others are clear. */
export function followingPlace(places: readonly PlaceView[], id: string): PlaceView | null {
  const at = places.findIndex((p) => p.place.id === id);
  return [...places.slice(at + 1), ...places.slice(0, Math.max(0, at))].find((p) => p.inPlace > 0) ?? null;
}

export interface TransferView {
  readonly transfer: Transfer;
  readonly fate: Fate;
  /** Moved, or seen with the new pack, or left with the old one. */
  readonly isDone: boolean;
  readonly mark: Mark | null;
}

/** What moves, comes and stays when the whole pack is exchanged. */
export function listTransfers(state: StripScene, profile: Profile): TransferView[] {
  return profile.transfer.map((transfer) => {
    const stated = state.strip.transfers.get(transfer.id);
    return { transfer, fate: stated?.fate ?? transfer.fate, isDone: stated?.isDone ?? false, mark: stated ?? null };
  });
}

/** The lift of the pack as one person would make it, as the equation is asked. */
export function liftQuestion(profile: Profile): LiftInput {
  const { horizontalCentimetre, verticalCentimetre, travelCentimetre, asymmetryDegree, coupling } = profile.lift;
  return {
    ...{ horizontalCentimetre, verticalCentimetre, travelCentimetre, asymmetryDegree, coupling },
    ...{ loadKilogram: profile.massKilogram, liftsPerMinute: 0, durationHours: 1 },
  };
}

/** Why one person must not lift the pack. */
export function findPackLift(profile: Profile): LiftAnswer | null {
  const found = findLift(liftQuestion(profile));
  return found.kind === 'answer' ? found.value : null;
}
