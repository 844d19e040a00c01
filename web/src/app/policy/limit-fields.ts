/** The limits as fields of a form: where each stands in the policy, its unit and its meaning. */
import { readDecimal, type Policy } from '@estuarine/core';

type LimitKey = keyof Policy['limits'];
type MatchingKey = Exclude<keyof Policy['matching'], 'objective'>;

export interface LimitField {
  readonly key: string;
  readonly at: { readonly part: 'limits'; readonly name: LimitKey } | { readonly part: 'matching'; readonly name: MatchingKey };
  readonly group: 'Against the crowd' | 'Hard limits' | 'A matched set from the shelf';
  readonly name: string;
  readonly unit: string;
  readonly minimum: number;
  readonly isOptional: boolean;
  /** What is shown is the stored value times this. */
  readonly factor: number;
}

function limit(name: LimitKey, label: string, unit: string, minimum = 0, factor = 1): LimitField {
  return { key: name, at: { part: 'limits', name }, group: 'Against the crowd', name: label, unit, minimum, isOptional: false, factor };
}
function hard(name: LimitKey, label: string, unit: string): LimitField {
  return { ...limit(name, label, unit), group: 'Hard limits', isOptional: true };
}
function matching(name: MatchingKey, label: string, unit: string): LimitField {
  return {
    key: `match-${name}`,
    at: { part: 'matching', name },
    group: 'A matched set from the shelf',
    name: label,
    unit,
    minimum: 0,
    isOptional: true,
    factor: 1,
  };
}

export const LIMIT_FIELDS: readonly LimitField[] = [
  limit('watchZ', 'Watch from modified z', '', 0.1),
  limit('rejectZ', 'Reject from modified z', '', 0.1),
  {
    ...limit('openCircuitRejectZ', 'Open circuit alone rejects from modified z (empty: it only makes suspect)', '', 0.1),
    isOptional: true,
  },
  limit('leastRestHour', 'Shortest rest that is judged', 'h'),
  limit('crowdSize', 'Fewest readings that make a crowd', '', 3),
  limit('floorOpenCircuitMillivolt', 'Open circuit: differences up to this never count', 'mV'),
  limit('floorDropMillivolt', 'Drops: differences up to this never count', 'mV'),
  limit('floorResistanceShare', 'Resistance: differences up to this never count', '%', 0, 100),
  limit('floorCapacityShare', 'Capacity: differences up to this never count', '%', 0, 100),
  limit('deadCellShare', 'Dead cell: this share of one cell below the others', '%', 1, 100),
  hard('minOpenCircuitVolt', 'Least open-circuit voltage', 'V'),
  hard('maxRestDropMillivolt', 'Most rest drop', 'mV'),
  hard('maxResistanceMilliohm', 'Most resistance', 'mΩ'),
  hard('minCapacityAh', 'Least capacity', 'Ah'),
  matching('minCapacityAh', 'Least capacity', 'Ah'),
  matching('maxResistanceMilliohm', 'Most resistance', 'mΩ'),
  matching('maxRestDropMillivolt', 'Most rest drop', 'mV'),
];

/** The text of a field; empty where no limit is set. */
export function readField(policy: Policy, field: LimitField): string {
  const value = field.at.part === 'limits' ? policy.limits[field.at.name] : policy.matching[field.at.name];
  return value === null ? '' : String(Number((value * field.factor).toPrecision(10)));
}

/** The policy with a field's text in it; a blank optional field takes the limit away. */
export function writeField(policy: Policy, field: LimitField, text: string): Policy {
  const read = readDecimal(text);
  const value = read.kind === 'answer' ? Number((read.value / field.factor).toPrecision(10)) : null;
  return field.at.part === 'limits'
    ? { ...policy, limits: { ...policy.limits, [field.at.name]: value } }
    : { ...policy, matching: { ...policy.matching, [field.at.name]: value } };
}
