/** Every module before and after, and where it sits: drawings, a chart and the table. */
import { drawPack, type PlaceShown } from '../drawing/pack-picture.ts';
import { drawPairs } from '../drawing/pair-chart.ts';
import { recordModules, type ModuleRecord } from '../job/chapters/sweep/view.ts';
import { idsAsFound } from '../job/frame/as-found.ts';
import { moduleIdsOf, type JobState } from '../job/frame/state.ts';
import { figure, initials, type Words, type ReportBlock, type ReportInput } from './blocks.ts';

const VERDICT_WORDS = { keep: 'keep', watch: 'watch', reject: 'reject', unknown: 'not judged' } as const;

/** As the pack came: what sat at each place when the job was opened. */
export function recordAsFound({ state, profile, policy }: ReportInput): ModuleRecord[] {
  const ids = idsAsFound(state);
  const places = state.pack.places.map((p, i) => ({ ...p, moduleId: ids[i] ?? null }));
  const asFound: Pick<JobState, 'sweep' | 'pack'> = {
    sweep: { ...state.sweep, keys: state.sweep.keys.map((list, i) => [ids[i] ?? list[0] ?? '']) },
    pack: { ...state.pack, places },
  };
  return recordModules(asFound, profile, policy.limits);
}

export function countModules({ state }: ReportInput): { staying: number; fromShelf: number; out: number } {
  const before = new Set(idsAsFound(state).filter((id): id is string => id !== null));
  const now = moduleIdsOf(state).filter((id) => id !== '');
  const staying = now.filter((id) => before.has(id)).length;
  return { staying, fromShelf: now.length - staying, out: [...before].filter((id) => !now.includes(id)).length };
}

export function writeModules(input: ReportInput, { when }: Words): ReportBlock[] {
  const { state, profile, policy, shelf } = input;
  const found = recordAsFound(input);
  const hasReadings = found.some((r) => Object.keys(r.figures).length > 0);
  if (!hasReadings && state.open.history.length === 0) return [];
  const now = recordModules(state, profile, policy.limits);
  const nowIds = moduleIdsOf(state);
  const placeNow = new Map(nowIds.map((id, i) => [id, i + 1]));
  const capacityNow = (i: number): number | null => now[i]?.figures.capacityAh ?? shelf.get(nowIds[i] ?? '')?.capacityAh ?? null;
  const hasMoved = found.some((r, i) => r.moduleId !== nowIds[i]);
  return [
    { kind: 'heading', level: 2, text: 'Modules' },
    ...listSweeps(state, when),
    { kind: 'heading', level: 3, text: 'As found' },
    { kind: 'picture', picture: drawPack(profile, found.map((r) => shownOf(r, false))), says: 'The pack as found: volts at rest, and the verdict of each module.' }, // prettier-ignore
    foundTable(found, placeNow, hasMoved),
    ...listAgainst(found),
    ...(hasMoved
      ? ([
          { kind: 'heading', level: 3, text: 'As it is now' },
          {
            kind: 'picture',
            picture: drawPack(profile, nowIds.map((id, i) => ({ place: i + 1, verdict: null, text: id, isNew: id !== found[i]?.moduleId }))), // prettier-ignore
            says: 'The pack as it is now, by the labels of its modules. Thick edge: another module than before.',
          },
          {
            kind: 'table',
            columns: [
              { name: 'Place', isFigure: true, share: 1 },
              { name: 'Module', share: 3 },
              { name: 'From', share: 3 },
              { name: 'Ah', isFigure: true, share: 1.5 },
              { name: 'mΩ', isFigure: true, share: 1.5 },
            ],
            rows: nowIds.map((id, i) => {
              const was = found.findIndex((r) => r.moduleId === id && id !== '');
              const from = was === i ? 'stays' : was >= 0 ? `place ${was + 1}` : id === '' ? '' : 'shelf';
              const milliohm = now[i]?.milliohm ?? shelf.get(id)?.resistanceMilliohm ?? null;
              return [`${i + 1}`, id || 'empty', from, figure(capacityNow(i), 2), figure(milliohm, 1)];
            }),
          },
        ] satisfies ReportBlock[])
      : []),
    ...chartCapacities(found, hasMoved ? nowIds.map((_, i) => capacityNow(i)) : null),
  ];
}

function shownOf(record: ModuleRecord, isNew: boolean): PlaceShown {
  return { place: record.place, verdict: record.verdict, text: record.restingVolt === null ? '' : record.restingVolt.toFixed(2), isNew };
}

function listSweeps({ sweep }: JobState, when: Words['when']): ReportBlock[] {
  const rows = sweep.sweeps.map((s) => [when(s.startedAt), SWEEP_WORDS[s.kind], initials(s.by), s.fileName ?? 'typed or read']);
  if (rows.length === 0) return [];
  return [
    {
      kind: 'table',
      columns: [
        { name: 'Sweep', share: 3 },
        { name: 'Kind', share: 3 },
        { name: 'By', share: 1 },
        { name: 'From', share: 3 },
      ],
      rows,
    },
  ];
}

const SWEEP_WORDS = { openCircuit: 'open circuit', rest: 'after rest', load: 'under load', resistance: 'resistance', capacity: 'capacity' } as const; // prettier-ignore

function foundTable(found: readonly ModuleRecord[], placeNow: ReadonlyMap<string, number>, hasMoved: boolean): ReportBlock {
  return {
    kind: 'table',
    columns: [
      { name: 'Place', isFigure: true, share: 1 },
      { name: 'Module', share: 2.6 },
      { name: 'V', isFigure: true, share: 1.3 },
      { name: 'drop mV', isFigure: true, share: 1.5 },
      { name: 'load mV', isFigure: true, share: 1.5 },
      { name: 'mΩ', isFigure: true, share: 1.3 },
      { name: 'Ah', isFigure: true, share: 1.3 },
      { name: 'Verdict', share: 1.8 },
      ...(hasMoved ? [{ name: 'Now', share: 1.6 }] : []),
    ],
    rows: found.map((r) => {
      const { openCircuitVolt, restDropMillivolt, loadDropMillivolt, resistanceMilliohm, capacityAh } = r.figures;
      const there = placeNow.get(r.moduleId);
      return [
        ...[`${r.place}`, r.moduleId || 'unnamed', figure(openCircuitVolt, 3), figure(restDropMillivolt, 0), figure(loadDropMillivolt, 0)],
        ...[figure(resistanceMilliohm, 1), figure(capacityAh, 2), VERDICT_WORDS[r.verdict]],
        ...(hasMoved ? [there === undefined || r.moduleId === '' ? 'out' : there === r.place ? 'stays' : `place ${there}`] : []),
      ];
    }),
  };
}

/** Why a module was judged against, by place. */
function listAgainst(found: readonly ModuleRecord[]): ReportBlock[] {
  return found
    .filter((r) => r.verdict === 'reject' || r.verdict === 'watch')
    .map((r) => ({ kind: 'text', text: `Module ${r.place}: ${r.reasons.map((why) => why.sentence).join(' ')}` }));
}

function chartCapacities(found: readonly ModuleRecord[], now: readonly (number | null)[] | null): ReportBlock[] {
  const pairs = found.map((r, i) => ({ place: r.place, before: r.figures.capacityAh ?? null, after: now?.[i] ?? null }));
  if (pairs.every((p) => p.before === null && p.after === null)) return [];
  return [{ kind: 'picture', picture: drawPairs(pairs, 'Ah'), says: 'Capacity of each place, as found and as it is now.' }];
}
