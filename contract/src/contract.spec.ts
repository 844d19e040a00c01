import { actSchema, shopActSchema } from '@estuarine/core';
import { problemCode, problemSchema, sentActSchema, sentShopActSchema } from './index.ts';

const header = { commandId: '0190b9c0-0000-7000-8000-000000000000', deviceAt: '2026-05-04T08:00:00.000Z', by: 'om' };
const act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };

describe('a sent act', () => {
  it('is taken as it is', () => {
    expect(sentActSchema.parse({ ...header, act })).toEqual({ ...header, version: 1, act });
  });
  it.each([
    ['a time that is none', { ...header, act, deviceAt: 'yesterday' }, ['deviceAt']],
    ['an id with a slash', { ...header, act, commandId: '../x' }, ['commandId']],
    ['no author', { commandId: header.commandId, deviceAt: header.deviceAt, act }, ['by']],
    ['an act without a body', { ...header, act: { type: 'fact.stated' } }, ['act', 'body']],
    ['a version that cannot be', { ...header, version: 0, act }, ['version']],
    ['papers that lack the vehicle', { ...header, act, papers: { customer: null } }, ['papers', 'vehicle']],
  ])('is refused with %s, and the path says where', (_what, sent, path) => {
    const parsed = sentActSchema.safeParse(sent);
    expect(parsed.success).toBe(false);
    expect(parsed.error?.issues[0]?.path).toEqual(path);
  });
});

it('keeps job acts and shop acts apart', () => {
  const names = (schema: typeof actSchema | typeof shopActSchema): string[] => schema.options.map((o) => o.shape.type.value);
  expect(names(actSchema).filter((n) => names(shopActSchema).includes(n))).toEqual([]);
  expect(sentShopActSchema.safeParse({ ...header, act }).success).toBe(false);
});

it('reads the code out of a problem', () => {
  const problem = problemSchema.parse({ type: 'urn:estuarine:taken', title: 't', status: 409, detail: 'd', path: ['body', 0] });
  expect(problemCode(problem)).toBe('taken');
  expect(problemCode({ ...problem, type: 'about:blank' })).toBe('about:blank');
});
