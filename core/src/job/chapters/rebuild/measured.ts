/** What is made ready and measured on the way up, and what it comes to: bars, sensors, joints, halves, the loop and the paste. */
import { judgeHalf, type Half } from '../../../bars/halves.ts';
import { surveyJoints, type Survey } from '../../../bars/survey.ts';
import { fitLeak, type Leak } from '../../../coolant/leak.ts';
import { findPaste, type PasteNeed } from '../../../coolant/paste.ts';
import type { Fact } from '../../../pack/fact.ts';
import type { PackState } from '../../../pack/effect.ts';
import type { Profile } from '../../../pack/profile.ts';
import type { Result } from '../../../result.ts';
import { median } from '../../../stats/robust.ts';
import type { BarsReadied, RebuildState } from './state.ts';
import { lastOpened } from './torque-view.ts';

/** What of a job these are seen by. */
export interface MeasuredScene {
  readonly rebuild: RebuildState;
  readonly pack: PackState;
  readonly facts: readonly { readonly number: number; readonly fact: Fact }[];
  readonly open: {
    readonly history: readonly {
      readonly place: number;
      readonly was: string | null;
      readonly moduleId: string | null;
      readonly number: number;
    }[];
  };
  /** What each place stands at by its last reading at rest, place 1 first; null where nobody read it. */
  readonly volts: readonly (number | null)[];
}

export interface BarsReady {
  /** Null: every bar of the pack. */
  readonly frame: string | null;
  readonly name: string;
  readonly word: BarsReadied | null;
  /** Why they do not go on as they are; null where they do, or nobody said. */
  readonly fault: string | null;
}

/** Frame by frame, or the bars of the pack together where it has no frame. */
export function findBarsReady({ rebuild }: Pick<MeasuredScene, 'rebuild'>, { frames }: Profile): BarsReady[] {
  const sets = frames.length > 0 ? frames.map(({ id, name }) => ({ frame: id, name })) : [{ frame: null, name: 'all bars' }];
  return sets.map(({ frame, name }) => {
    const word = rebuild.bars.findLast((b) => b.frame === frame || b.frame === null) ?? null;
    return { frame, name, word, fault: word && whyNotOn(word) };
  });
}

function whyNotOn({ how, isDry, plating }: BarsReadied): string | null {
  if (how === 'new') return null;
  if (isDry !== true) return 'Still wet: water between bar and post is the next corrosion. Dry them and look again.';
  return plating === 'gone' ? 'The acid took the plating: bare copper corrodes. Take new ones.' : null;
}

/** The last survey since any bar came off; null where none was made. */
export function findSurvey(scene: MeasuredScene, profile: Profile): Survey | null {
  const last = scene.rebuild.surveys.at(-1);
  if (!last || last.number < lastOpened(allLinks(profile), scene.facts, profile)) return null;
  const { ampere, resolutionMillivolt } = last;
  const survey = surveyJoints({
    ampere,
    resolutionMillivolt,
    joints: last.joints.map((j) => ({ id: String(j.link), millivolt: j.millivolt })),
  });
  return survey.kind === 'answer' ? survey.value : null;
}

function allLinks({ moduleCount }: Profile): number[] {
  return Array.from({ length: moduleCount - 1 }, (_, i) => i + 1);
}

export interface HalfView {
  readonly from: number;
  readonly to: number;
  readonly sumVolt: number;
  /** Places whose voltage nobody read; the median of the others stands for them. */
  readonly assumed: readonly number[];
  /** Null where it was not measured since the last bar came off. */
  readonly measured: (Half & { readonly volt: number }) | null;
}

/** The runs that the plug leaves, each against the sum of its modules. */
export function findHalves(scene: MeasuredScene, profile: Profile): HalfView[] {
  const { plug, moduleCount, moduleType } = profile;
  const parted = plug.opensLink !== null && !scene.pack.isPlugIn ? plug.opensLink : null;
  const runs = parted === null ? [[1, moduleCount] as const] : [[1, parted] as const, [parted + 1, moduleCount] as const];
  const read = scene.volts.filter((v) => v !== null);
  const typical = read.length > 0 ? median(read) : moduleType.nominalVolt;
  const since = Math.max(lastOpened(allLinks(profile), scene.facts, profile), scene.open.history.at(-1)?.number ?? 0);
  return runs.map(([from, to]) => {
    const own = Array.from({ length: to - from + 1 }, (_, i) => scene.volts[from - 1 + i] ?? null);
    const volts = own.map((v) => v ?? typical);
    const last = scene.rebuild.halves.findLast((h) => h.from === from && h.to === to && h.number > since);
    return {
      ...{ from, to, sumVolt: volts.reduce((sum, v) => sum + v, 0) },
      assumed: own.flatMap((v, i) => (v === null ? [from + i] : [])),
      measured: last ? { ...judgeHalf({ volts, from, measuredVolt: last.volt }), volt: last.volt } : null,
    };
  });
}

type Comings = MeasuredScene['open']['history'];

/**
 * Number of the event with which the module of a place came out last: what was done to the plate before it is not there any more. Where
 * another is stated in its place at once, what was done since the one before counts. 0 where none came out.
 */
function lastOut(history: Comings, place: number): number {
  let [out, before] = [0, 0];
  for (const { place: at, was, moduleId, number } of history) {
    if (at !== place) continue;
    if (moduleId === null) out = number;
    else if (was !== null && was !== moduleId) out = before;
    before = number;
  }
  return out;
}

/** The last test of the loop since a module came out last; null where none was made or the pack has none. */
export function findLeak(
  { rebuild, open }: Pick<MeasuredScene, 'rebuild' | 'open'>,
  { coolant, moduleCount }: Profile,
): Result<Leak> | null {
  const since = Math.max(0, ...Array.from({ length: moduleCount }, (_, i) => lastOut(open.history, i + 1)));
  const last = rebuild.leaks.findLast((l) => l.number > since);
  return last && coolant ? fitLeak({ readings: last.readings, ...coolant }) : null;
}

export interface PasteView extends PasteNeed {
  /** Places whose paste is renewed: where a module came out, or all of them. */
  readonly places: readonly number[];
  /** Of these, without fresh paste that was weighed. */
  readonly missing: readonly number[];
  /** Of these, with too little or too much. */
  readonly wrong: readonly number[];
  /** What is wrong with what was laid last, as a sentence; null where nothing is. */
  readonly fault: string | null;
}

export function findPasteView(
  { rebuild, open }: Pick<MeasuredScene, 'rebuild' | 'open'>,
  { coolant, moduleCount }: Profile,
): PasteView | null {
  if (!coolant) return null;
  const need = findPaste(coolant.paste);
  const touched = [...new Set(open.history.map((h) => h.place))].sort((a, b) => a - b);
  const places = touched.length > 0 ? touched : Array.from({ length: moduleCount }, (_, i) => i + 1);
  const last = (place: number) =>
    rebuild.pastes.findLast((p) => p.from <= place && place <= p.to && p.number > lastOut(open.history, place));
  const faultOf = (place: number): string | null => {
    const paste = last(place);
    if (!paste) return null;
    const each = paste.gram / (paste.to - paste.from + 1);
    if (each < need.leastGram) return `${each.toFixed(1)} g at place ${place}: too little, air stays under the module.`;
    return each > need.mostGram ? `${each.toFixed(1)} g at place ${place}: too much, it lifts the module and runs out.` : null;
  };
  const wrong = places.filter((p) => faultOf(p) !== null);
  return { ...need, places, missing: places.filter((p) => !last(p)), wrong, fault: wrong[0] === undefined ? null : faultOf(wrong[0]) };
}
