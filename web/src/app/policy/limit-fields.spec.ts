import { DEFAULT_POLICY, policySchema } from '@estuarine/core';
import { LIMIT_FIELDS, readField, writeField } from './limit-fields.ts';

describe('the fields of the limits', () => {
  it('write back what they read, every one of them', () => {
    let policy = DEFAULT_POLICY;
    for (const field of LIMIT_FIELDS) policy = writeField(policy, field, readField(policy, field));
    expect(policy).toEqual(DEFAULT_POLICY);
  });
  it('hold every limit of the policy', () => {
    const names = LIMIT_FIELDS.filter((f) => f.at.part === 'limits').map((f) => f.at.name);
    expect([...names].sort()).toEqual(Object.keys(DEFAULT_POLICY.limits).sort());
  });
  it('show shares as percent and take a decimal comma', () => {
    const field = LIMIT_FIELDS.find((f) => f.key === 'floorResistanceShare');
    if (!field) throw new Error('no such field');
    expect(readField(DEFAULT_POLICY, field)).toBe('10');
    const changed = writeField(DEFAULT_POLICY, field, '12,5');
    expect(changed.limits.floorResistanceShare).toBe(0.125);
    expect(policySchema.safeParse(changed).success).toBe(true);
  });
});
