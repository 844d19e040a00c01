/**
 * Why a job came back: what the new scan shows, held against the record of the job before. Each candidate starts from how often it is the
 * cause and is multiplied by what speaks for it; the factors are common practice, no source, and only their order matters.
 */
import { blockPlaces, type Profile } from '../../pack/profile.ts';
import { findCooling } from '../chapters/cool/view.ts';
import { lookAfter } from '../chapters/cool/looks.ts';
import { findTorqueGroup } from '../chapters/rebuild/torque-view.ts';
import { findLedger } from '../chapters/strip/view.ts';
import { recordModules } from '../chapters/sweep/view.ts';
import { DEFAULT_LIMITS } from '../../reading/verdict.ts';
import type { JobState } from '../frame/state.ts';
import { viewScan } from './scan-view.ts';

export interface ComebackCause {
  readonly what: 'module' | 'joint' | 'cooling' | 'hand';
  /** Place of the module, or of the first of the two that the joint joins; null where it is about none. */
  readonly at: number | null;
  /** Of all candidates, 0 to 1. */
  readonly share: number;
  /** What speaks for it, in the order of weight. */
  readonly because: readonly string[];
}

interface JobAt {
  readonly state: JobState;
  readonly profile: Profile;
}

const PRIOR = { module: 0.5, joint: 0.2, cooling: 0.2, hand: 0.1 } as const;
const DIRTY_SHARE = 0.2;
const HOT_CELSIUS = 50;
/** What is low in a scan gathers what modules are guilty of on the places of that block. */
const LOW_BLOCK = 1.5;
/** Heat ages many blocks; where few are low it seldom was heat alone. */
const FEW_SHARE = 0.25;
/** Candidates below this share are not worth a line. */
const LEAST_SHARE = 0.01;

/** Candidates, the likeliest first; their shares add to 1 before the least are left out. */
export function explainComeback(before: JobAt, now: JobAt): ComebackCause[] {
  const { profile } = before;
  const seen = readScan(now);
  const found: Weighed[] = [
    ...weighModules(before, seen),
    ...weighJoints(before, seen),
    weighCooling(before, now, seen),
    weighHand(before, now),
  ];
  const total = found.reduce((sum, c) => sum + c.weight, 0);
  if (!(total > 0) || profile.moduleCount === 0) return [];
  return found
    .map(({ weight, ...cause }) => ({ ...cause, share: weight / total }))
    .filter((c) => c.share >= LEAST_SHARE)
    .sort((a, b) => b.share - a.share || (a.at ?? 0) - (b.at ?? 0));
}

type Weighed = Omit<ComebackCause, 'share'> & { readonly weight: number };
type Reason = readonly [factor: number, because: string];

function weigh(what: Weighed['what'], at: number | null, start: number, reasons: readonly Reason[]): Weighed {
  const sorted = [...reasons].sort((a, b) => b[0] - a[0]);
  return {
    what,
    at,
    weight: sorted.reduce((w, [factor]) => w * factor, start),
    because: sorted.filter(([f]) => f > 1).map(([, why]) => why),
  };
}

interface Seen {
  /** Places that lie in blocks that are low now. */
  readonly low: ReadonlySet<number>;
  /** Blocks with bars that rest high, from 1. */
  readonly barBlocks: ReadonlySet<number>;
  readonly wiring: string | null;
  readonly hottest: number | null;
  /** Whether the car was scanned at all: else every place is as likely as another. */
  readonly isScanned: boolean;
}

function readScan({ state, profile }: JobAt): Seen {
  const view = viewScan(state, profile);
  const spans = blockPlaces(profile.blocks);
  const low = new Set<number>();
  for (const [i, block] of (view?.blocks?.items ?? []).entries())
    if ((block.outlier && block.deficitVolt < 0) || block.deadCellSuspect)
      for (let place = spans[i]?.from ?? 1; place <= (spans[i]?.to ?? 0); place++) low.add(place);
  const barBlocks = new Set((view?.bars?.rests ?? []).filter((b) => b.standsApart).map((b) => b.block));
  const best = view?.wiring[0];
  const celsius = (view?.scan.celsius ?? []).filter((c): c is number => c !== null);
  return {
    ...{ low, barBlocks, isScanned: view !== null, hottest: celsius.length > 0 ? Math.max(...celsius) : null },
    wiring: best && best.fault.kind !== 'none' ? best.sentence : null,
  };
}

function weighModules({ state, profile }: JobAt, { low, isScanned }: Seen): Weighed[] {
  const records = recordModules(state, profile, DEFAULT_LIMITS);
  const assumed = new Set(state.plan.chosen?.assumedPlaces ?? []);
  const start = PRIOR.module / Math.max(1, profile.moduleCount);
  return records.map((record) => {
    const { place, verdict } = record;
    const reasons: Reason[] = [
      isScanned && low.size > 0
        ? low.has(place)
          ? [LOW_BLOCK * (profile.moduleCount / low.size), 'its block is low in the new scan']
          : [0.1, '']
        : [1, ''],
      verdict === 'reject' ? [8, 'it was rejected and stayed in'] : verdict === 'watch' ? [3, 'it was on watch'] : [1, ''],
      assumed.has(place) ? [2, 'its capacity was never measured'] : [1, ''],
      state.rebuild.dropped.some((d) => d.moduleId === record.moduleId) ? [4, 'it was dropped'] : [1, ''],
    ];
    return weigh('module', place, start, reasons);
  });
}

function weighJoints({ state, profile }: JobAt, { low, barBlocks, wiring }: Seen): Weighed[] {
  const spans = blockPlaces(profile.blocks);
  const links = Array.from({ length: profile.moduleCount - 1 }, (_, i) => i + 1).filter((k) => k !== profile.plug.opensLink);
  const start = PRIOR.joint / Math.max(1, links.length);
  const groups = profile.parts.filter((p) => p.torque !== null).map((p) => findTorqueGroup(p, state, profile));
  const loose = groups.filter((g) => g.wantedPasses === 2 && g.seats.some((s) => s.passes > 0 || s.fault !== null) && !g.isDone);
  const lastBars = state.rebuild.bars.at(-1);
  return links.map((link) => {
    const block = spans.findIndex((s) => link >= s.from && link < s.to) + 1;
    const isLow = low.has(link) && low.has(link + 1);
    return weigh('joint', link, start, [
      barBlocks.has(block) ? [15, 'its block has bars of high resistance'] : [1, ''],
      low.size > 0 && barBlocks.size === 0 ? (isLow ? [3, 'it lies in a block that is low'] : [0.3, '']) : [1, ''],
      wiring !== null && isLow ? [3, wiring] : [1, ''],
      loose.length > 0 ? [3, 'not every nut was tightened in both passes'] : [1, ''],
      lastBars?.plating === 'thin' || lastBars?.plating === 'gone' ? [2.5, 'the old bars went back with worn plating'] : [1, ''],
      lastBars && !lastBars.haveNewNuts ? [1.3, 'old nuts'] : [1, ''],
    ]);
  });
}

function weighCooling(before: JobAt, now: JobAt, { hottest, low }: Seen): Weighed {
  const then = findCooling(before.state, before.profile);
  const { foundShare } = findCooling(now.state, now.profile);
  const opened = Date.parse(now.state.intake.opened?.at ?? '');
  const dueAt = then.look ? lookAfter(Date.parse(then.look.at), then.look.months) : NaN;
  return weigh('cooling', null, PRIOR.cooling, [
    low.size > 0 && low.size <= FEW_SHARE * before.profile.moduleCount ? [0.4, ''] : [1, ''],
    foundShare !== null
      ? foundShare >= DIRTY_SHARE
        ? [6, `${Math.round(100 * foundShare)} % of the air path is shut again`]
        : [0.3, '']
      : [1, ''],
    then.judged?.isAnswered === true ? [1, ''] : [4, 'the cooling was never answered'],
    opened > dueAt ? [2, 'the next look was missed'] : [1, ''],
    hottest !== null ? (hottest >= HOT_CELSIUS ? [3, `${hottest} °C in the new scan`] : [0.6, '']) : [1, ''],
  ]);
}

function weighHand({ state, profile }: JobAt, now: JobAt): Weighed {
  const { owed } = findLedger(state, profile);
  const traces = now.state.finding.findings.filter(
    (f) => f.isOnArrival && (f.kind === 'tiesCut' || f.kind === 'wrongPart' || f.kind === 'missing'),
  );
  return weigh('hand', null, PRIOR.hand, [
    traces.length > 0 ? [5, 'somebody was at it since: traces on arrival'] : [1, ''],
    state.isolate.overrides.length > 0 ? [1.5, 'steps were overridden'] : [1, ''],
    owed > 0 ? [3, `${owed} pieces were never put back`] : [1, ''],
    state.strip.leftOff.length > 0 ? [1.5, 'parts were left off'] : [1, ''],
    state.intake.closed?.outcome === 'brokenOff' ? [2, 'the job was broken off'] : [1, ''],
  ]);
}
