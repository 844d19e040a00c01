/** Counts of parts and facts about the pack are one: a count means a fact, a fact moves the parts, and both are kept together. */
import { balanceLedger, countInPlace, type PartBalance } from '../../ledger/ledger.ts';
import { isAtHand, isFit, type Spot } from '../../ledger/spot.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import type { Stamp } from '../chapters/stamp.ts';
import type { StripState } from '../chapters/strip/state.ts';
import type { Act, ActBody } from './acts.ts';
import { canAllGoBack, factOf, isOfCables, isTakingOff, listCountWords, wordsOf } from './count-words.ts';
import type { JobState } from './state.ts';
import { isStated, wouldStand } from './statements.ts';

/**
 * What an act means besides, to be kept with it: a count states the fact, a fact moves the parts.
 * @param stamp when it was said; null where only the order is known
 */
export function meansBesides(state: JobState, act: Act, profile: Profile, stamp: Stamp | null): Act[] {
  switch (act.type) {
    case 'part.moved': {
      const { from, to, partId } = act.body;
      if (from.kind === to.kind || !profile.parts.some((p) => p.id === partId && p.effects.length > 0)) return [];
      const moved = [...state.strip.moved, { ...NOBODY, ...act.body, commandId: '', number: state.head + 1 }];
      return factsMeant(state, { ...state.strip, moved }, act.body.stage, profile);
    }
    case 'fastener.torqued':
      return countedBack(state, act.body, profile);
    case 'sensors.sited':
      return clippedBack(state, profile);
    case 'fact.stated':
      // what was said before what stands moved its parts before what moved them since
      return stamp && !wouldStand(state, act.body.fact, stamp, profile) ? [] : movesMeant(state, act.body, profile);
    default:
      return [];
  }
}

/** A fastener that is tightened for the first time since it came off is back in its place, whether that was counted or not. */
function countedBack({ strip, rebuild }: JobState, { partId, seat }: ActBody<'fastener.torqued'>, profile: Profile): Act[] {
  const part = profile.parts.find((p) => p.id === partId);
  if (!part || part.effects.length > 0) return [];
  const off = strip.moved.findLast((m) => m.partId === partId && m.from.kind === 'inPlace')?.number ?? 0;
  if (rebuild.torqued.some((t) => t.partId === partId && t.seat === seat && t.number > off)) return [];
  const [balance] = balanceLedger(
    [part],
    strip.moved.filter((m) => m.partId === partId),
    strip.leftOff,
  ).parts;
  const lot = balance && balance.owed > 0 ? balance.lots.find((l) => isAtHand(l.spot) && isFit(l.condition) && l.count > 0) : undefined;
  if (!lot) return [];
  const { spot, condition } = lot;
  return [{ type: 'part.moved', body: { stage: 'rebuild', partId, count: 1, from: spot, to: { kind: 'inPlace' }, condition } }];
}

/** Sensors that are put to their places have their clips and plugs with them. */
function clippedBack({ strip }: JobState, profile: Profile): Act[] {
  const ids = new Set(profile.rebuild.flatMap((s) => (s.does === 'sensors' ? s.parts : [])));
  const parts = profile.parts.filter((p) => ids.has(p.id) && p.effects.length === 0);
  const balances = balanceLedger(
    parts,
    strip.moved.filter((m) => ids.has(m.partId)),
    strip.leftOff,
  ).parts;
  return balances.flatMap(({ part, lots }) =>
    lots
      .filter((l) => isAtHand(l.spot) && isFit(l.condition) && l.count > 0)
      .map(({ spot, condition, count }): Act => ({
        type: 'part.moved',
        body: { stage: 'rebuild', partId: part.id, count, from: spot, to: { kind: 'inPlace' }, condition },
      })),
  );
}

const NOBODY = { by: '', at: '' } as const;

/** The facts that a change of the counts means and that are not stated yet. */
function factsMeant({ strip, pack }: JobState, next: StripState, stage: Stage, profile: Profile): Act[] {
  const before = new Map(listCountWords(strip, profile).map((w) => [w.thing, w]));
  return listCountWords(next, profile).flatMap((after): Act[] => {
    const was = before.get(after.thing);
    if (!was || was.off === after.off) return [];
    // one piece off bares and one piece back joins, whatever the sums; covered and parted is only what they say of every piece
    const isOutwards = after.off > was.off;
    const isBaring = after.effect.kind === 'bares';
    const isSaid = isBaring ? isOutwards || after.isNoneOff : !isOutwards || after.isAllOff;
    // a cable that goes on again is no longer off and insulated, however many there are
    const isLoose = !isSaid && isOfCables(after.effect) && pack.connectors === 'insulated';
    const fact = isSaid || isLoose ? factOf(after.effect, isOutwards || isLoose) : null;
    if (!fact || (!isLoose && isStated(pack, fact, profile))) return [];
    return [{ type: 'fact.stated', body: { stage, fact } }];
  });
}

/** Moves the parts that a fact speaks of, all or none: where some are counted already, all of them only where that was said. */
function movesMeant(state: JobState, { stage, fact, counts }: ActBody<'fact.stated'>, profile: Profile): Act[] {
  const isOff = isTakingOff(fact);
  const move = (b: PartBalance, count: number, from: Spot, to: Spot, condition: ActBody<'part.moved'>['condition']): Act => ({
    type: 'part.moved',
    body: { stage, partId: b.part.id, count, from, to, condition },
  });
  return wordsOf(state, fact, profile).flatMap((word) => {
    if (isOff) {
      if (!word.isNoneOff && counts !== 'all') return [];
      return word.parts.flatMap((b) => {
        const left = countInPlace(b) ?? 0;
        return left > 0 ? [move(b, left, { kind: 'inPlace' }, { kind: 'onPart' }, 'good')] : [];
      });
    }
    if (word.isNoneOff || (counts !== 'all' && !canAllGoBack(word))) return [];
    return word.parts.flatMap((b) => {
      let owed = Math.max(0, b.owed);
      const moves: Act[] = [];
      for (const { spot, condition, count } of b.lots) {
        const taken = isAtHand(spot) && isFit(condition) ? Math.min(owed, count) : 0;
        if (taken <= 0) continue;
        owed -= taken;
        moves.push(move(b, taken, spot, { kind: 'inPlace' }, condition));
      }
      return owed > 0 && counts === 'all' ? [...moves, move(b, owed, { kind: 'new' }, { kind: 'inPlace' }, 'good')] : moves;
    });
  });
}
