import { actSchema, shopActSchema } from '@estuarine/core';
import { problemCode, problemSchema, sentActSchema, sentShopActSchema } from './index.ts';

const header = { commandId: '0190b9c0-0000-7000-8000-000000000000', deviceAt: '2026-05-04T08:00:00.000Z', by: 'om' };
const act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };

describe('a sent act', () => {
  it('is taken as it is', () => {
    expect(sentActSchema.parse({ ...header, act })).toEqual({ ...header, act });
  });
  it.each([
    ['a time that is none', { ...header, act, deviceAt: 'yesterday' }, ['deviceAt']],
    ['an id with a slash', { ...header, act, commandId: '../x' }, ['commandId']],
    ['no author', { commandId: header.commandId, deviceAt: header.deviceAt, act }, ['by']],
    ['an unknown type', { ...header, act: { type: 'job.burnt', body: {} } }, ['act', 'type']],
    ['a shop act on a job', { ...header, act: { type: 'module.released', body: { moduleId: 'a' } } }, ['act', 'type']],
    ['a number beyond bounds', { ...header, act: { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'links', links: [0], areOpen: true } } } }, ['act', 'body', 'fact', 'links', 0]], // prettier-ignore
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
