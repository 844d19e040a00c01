/** Charge between two open-circuit voltages of a cell, by inverting its model. */
import { answer, refuse, type Result } from '../result.ts';
import { findCellVolt, type BatteryParameters } from './battery-model.ts';

export interface LevelInput {
  readonly parameters: BatteryParameters;
  /** Open circuit, per cell. */
  readonly fromVolt: number;
  readonly toVolt: number;
}

/** Halvings of the capacity: below 1e-9 Ah of any cell of the trade. */
const HALVINGS = 200;

/**
 * Charge that takes a resting cell from one voltage to another, ampere hours, positive for charging.
 * Refusals: `impossible` for parameters whose voltage does not fall as charge is drawn, `impossible` for a voltage that the model does not
 * reach between full and empty.
 */
export function findLevelCharge({ parameters, fromVolt, toVolt }: LevelInput): Result<number> {
  const { K, A, B, Q } = parameters;
  if (!(Q > 0 && K >= 0 && A >= 0 && B >= 0 && (K > 0 || (A > 0 && B > 0))))
    return refuse('impossible', 'The voltage of this model does not fall as charge is drawn.', ['parameters']);
  const drawn: number[] = [];
  for (const [name, volt] of Object.entries({ fromVolt, toVolt })) {
    const found = drawnAt(parameters, volt);
    if (found.kind === 'refused') return refuse(found.code, found.message, [name]);
    drawn.push(found.value);
  }
  const [from = 0, to = 0] = drawn;
  return answer(from - to);
}

/** Charge drawn since full at which a resting cell stands at a voltage. */
function drawnAt(parameters: BatteryParameters, volt: number): Result<number> {
  const at = (drawn: number): number => {
    const found = findCellVolt(parameters, 0, drawn);
    return found.kind === 'answer' ? found.value : -Infinity;
  };
  const { E0, A, B, K, Q } = parameters;
  const full = at(0);
  // with a pole at empty every voltage below is reached, without one it ends
  const empty = K > 0 ? -Infinity : E0 + A * Math.exp(-B * Q);
  if (volt > full || volt < empty)
    return refuse('impossible', `${volt} V is not reached: full, the cell rests at ${full.toFixed(4)} V${K > 0 ? '' : ` and empty at ${empty.toFixed(4)} V`}.`); // prettier-ignore
  let [low, high] = [0, Q];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (at(middle) >= volt) low = middle;
    else high = middle;
  }
  return answer((low + high) / 2);
}
