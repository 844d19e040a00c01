/** The layers of a pack with what each lays bare once it is off. */
import { findGloveNeed, type GloveNeed } from '../../isolate/gloves.ts';
import type { Balance } from '../../ledger/ledger.ts';
import type { PackState } from '../../pack/effect.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import type { Layer } from '../../pack/parts.ts';
import type { Profile } from '../../pack/profile.ts';
import { listPlaces, type PlaceView } from '../chapters/strip/view.ts';
import type { JobState } from '../frame/state.ts';
import { findJobExposure } from './exposure.ts';
import { LIVE_VOLT } from './volts.ts';

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
  let pack: PackState = state.pack;
  let before = findJobExposure(state, profile, now).reachable.volt;
  return listPlaces(profile.layers, balance).map((view) => {
    const layer = view.place as Layer;
    const after = layer.fact ? applyFact(pack, layer.fact, profile) : pack;
    const isOff = layer.fact ? isSo(pack, layer.fact, profile) : view.isClear;
    pack = after;
    const { reachable, behind } = findJobExposure({ ...state, pack }, profile, now);
    // while it comes off, the hands are at what was bare before and what is bare after
    const gloves = findGloveNeed(before, reachable.volt, LIVE_VOLT);
    before = reachable.volt;
    return { ...view, place: layer, isOff, reachableVolt: reachable.volt, behindVolt: behind.volt, gloves };
  });
}

/** Whether stating a fact would change nothing. */
export function isSo(pack: PackState, fact: Fact, profile: Profile): boolean {
  return JSON.stringify(applyFact(pack, fact, profile)) === JSON.stringify(pack);
}
