/** What a school costs over its warranty: its price now, and the chance that a module that stays brings the job back. */
import { answer, refuse, type Result } from '../result.ts';

export interface AgedModule {
  readonly ageMonth: number;
  /** Of the Weibull distribution of its kind. */
  readonly shape: number;
  readonly scaleMonth: number;
}

export interface SchoolOffer {
  readonly name: string;
  readonly priceNow: number;
  readonly modules: readonly AgedModule[];
  /** Its own, where it is not that of all. */
  readonly warrantyMonth?: number | undefined;
}

export interface SchoolCost {
  readonly name: string;
  readonly priceNow: number;
  readonly comebackProbability: number;
  readonly expectedCost: number;
}

/**
 * Comeback = 1 - product over modules of exp((age/scale)^shape - ((age + warranty)/scale)^shape): each survived to its age, and one that
 * fails within the warranty brings the job back. Refusals: `impossible` for a figure below zero, a shape or scale that is not above it.
 */
export function weighSchools(schools: readonly SchoolOffer[], warrantyMonth: number, comebackCost: number): Result<SchoolCost[]> {
  for (const [name, value] of Object.entries({ warrantyMonth, comebackCost }))
    if (!(value >= 0)) return refuse('impossible', `It cannot be below zero, ${value} came.`, [name]);
  const costs: SchoolCost[] = [];
  for (const [i, { name, priceNow, modules, warrantyMonth: own = warrantyMonth }] of schools.entries()) {
    if (!(own >= 0)) return refuse('impossible', 'A warranty cannot be below zero.', ['schools', i, 'warrantyMonth']);
    let hazard = 0;
    for (const [j, { ageMonth, shape, scaleMonth }] of modules.entries()) {
      for (const [field, isFit] of Object.entries({ ageMonth: ageMonth >= 0, shape: shape > 0, scaleMonth: scaleMonth > 0 }))
        if (!isFit) return refuse('impossible', `${name}, module ${j + 1}: it cannot be so low.`, ['schools', i, 'modules', j, field]);
      hazard += ((ageMonth + own) / scaleMonth) ** shape - (ageMonth / scaleMonth) ** shape;
    }
    const comebackProbability = -Math.expm1(-hazard);
    costs.push({ name, priceNow, comebackProbability, expectedCost: priceNow + comebackProbability * comebackCost });
  }
  return answer(costs);
}
