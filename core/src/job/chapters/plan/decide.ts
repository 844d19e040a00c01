/** What becomes of the choice of a plan: its modules must be there and free; its figures are computed here. */
import { blockMeans, placesOf, rangeOfBlocks } from '../../../match/partition.ts';
import { median } from '../../../stats/robust.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { DecideContext, JobScene } from '../chapter.ts';
import type { PlanAct } from './acts.ts';
import type { PlanState } from './state.ts';

type Choice = Extract<PlanAct, { type: 'plan.chosen' }>;

/** Keeps a choice with its figures, or says why not. */
export function decideChoice(slice: PlanState, act: Choice, context: DecideContext, scene: JobScene): Choice | Refusal {
  if (slice.chosen) return refuse('notPermitted', 'A plan stands already. Withdraw it before choosing another.');
  const { school, moduleIds, fromShelf } = act.body;
  if (school === 'exchangePack') {
    if (moduleIds.length + fromShelf.length > 0) return refuse('mismatch', 'An exchange pack takes no modules.', ['body', 'moduleIds']);
    return { ...act, body: { ...act.body, rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] } };
  }
  return refuseModules(act, context, scene) ?? { ...act, body: { ...act.body, ...weighPlan(act.body, context, scene) } };
}

function refuseModules({ body }: Choice, context: DecideContext, { pack }: JobScene): Refusal | null {
  const { moduleIds, fromShelf } = body;
  const { moduleCount } = context.profile;
  if (moduleIds.length !== moduleCount)
    return refuse('mismatch', `${moduleIds.length} modules do not fill ${moduleCount} places.`, ['body', 'moduleIds']);
  const isShelf = new Set(fromShelf);
  const isMine = new Set(pack.places.map((p) => p.moduleId));
  const seen = new Set<string>();
  for (const [i, id] of moduleIds.entries()) {
    const path = ['body', 'moduleIds', i];
    if (seen.has(id)) return refuse('mismatch', `Module ${id} stands twice in the plan.`, path);
    seen.add(id);
    if (isShelf.has(id) === isMine.has(id))
      return refuse('unknownName', `Module ${id} is ${isMine.has(id) ? 'in this pack, not on the shelf' : 'not in this pack'}.`, path);
  }
  for (const [i, id] of fromShelf.entries()) {
    if (!seen.has(id)) return refuse('mismatch', `Module ${id} is taken from the shelf and used nowhere.`, ['body', 'fromShelf', i]);
    const why = context.whyNotFree(id);
    if (why !== null) return refuse('taken', why, ['body', 'fromShelf', i]);
  }
  return null;
}

type Weighed = Pick<Choice['body'], 'rangeAh' | 'lowerBoundAh' | 'proven' | 'blockMeanAh' | 'assumedPlaces'>;

/** Two ranges closer than this are one, in Ah. */
const SAME_AH = 1e-9;

/**
 * Block means and their range by what is measured of each module; where a capacity was not measured the middle of the others stands
 * in, the nominal one where none was. A proof over assumed capacities is none.
 */
function weighPlan({ moduleIds, fromShelf }: Choice['body'], context: DecideContext, scene: JobScene): Weighed {
  const { blocks, moduleType } = context.profile;
  const known = planCapacities(moduleIds, fromShelf, context, scene);
  const measured = known.filter((c): c is number => c !== null);
  const middle = measured.length > 0 ? median(measured) : moduleType.nominalCapacityAh;
  const capacities = known.map((c) => c ?? middle);
  const places = placesOf(blocks);
  const rangeAh = rangeOfBlocks(capacities, places);
  const assumedPlaces = known.flatMap((c, i) => (c === null ? [i + 1] : []));
  const bound = assumedPlaces.length > 0 ? null : context.provenRange(capacities);
  const proven = bound !== null && rangeAh <= bound + SAME_AH;
  return { blockMeanAh: blockMeans(capacities, places), rangeAh, assumedPlaces, lowerBoundAh: bound, proven };
}

/** The capacity of each module of a plan as measured, in place order; null where it was not. */
export function planCapacities(
  moduleIds: readonly string[],
  fromShelf: readonly string[],
  { shelfCapacityAh }: Pick<DecideContext, 'shelfCapacityAh'>,
  { capacityAh }: Pick<JobScene, 'capacityAh'>,
): (number | null)[] {
  const isShelf = new Set(fromShelf);
  return moduleIds.map((id) => (isShelf.has(id) ? shelfCapacityAh(id) : capacityAh(id)));
}
