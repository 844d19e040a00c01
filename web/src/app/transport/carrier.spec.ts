import { pass, settle, useVirtualTime } from '../../test/virtual-time.ts';
import { Carrier, NotNow } from './carrier.ts';

useVirtualTime();

function setUp() {
  let ends: { go: () => void; fail: (error: Error) => void }[] = [];
  let rounds = 0;
  const carrier = new Carrier(() => {
    rounds++;
    return new Promise<void>((go, fail) => ends.push({ go, fail }));
  });
  const end = async (error?: Error): Promise<void> => {
    const [{ go, fail } = { go: () => undefined, fail: () => undefined }] = ends;
    ends = [];
    if (error) fail(error);
    else go();
    await settle(1);
  };
  return { carrier, end, rounds: () => rounds, open: () => ends.length };
}

it('carries in rounds, one at a time, and one more for however many words came meanwhile', async () => {
  const { carrier, end, rounds, open } = setUp();
  carrier.want();
  for (let i = 0; i < 5; i++) carrier.want();
  await settle(1);
  expect([rounds(), open()]).toEqual([1, 1]);
  await end();
  expect([rounds(), open()]).toEqual([2, 1]);
  await end();
  expect([rounds(), open()]).toEqual([2, 0]);
});

it('begins a round that failed again, ever later, never before it is wanted, and at once when something changed', async () => {
  const { carrier, end, rounds } = setUp();
  carrier.want();
  await end(new Error('the disk'));
  carrier.want();
  await settle(1);
  expect(rounds()).toBe(1);
  await pass(800);
  expect(rounds()).toBe(2);
  await end(new NotNow(30_000));
  await pass(29_900);
  expect(rounds()).toBe(2);
  await pass(200);
  expect(rounds()).toBe(3);
  await end(new NotNow(30_000));
  carrier.wantAnew();
  await settle(1);
  expect(rounds()).toBe(4);
  // the pauses begin anew as well
  await end(new NotNow(0));
  await pass(800);
  expect(rounds()).toBe(5);
});

it('lets one thing rest, longer each time, until it came through or something changed', async () => {
  const { carrier, end, rounds } = setUp();
  for (const [least, most] of [
    [200, 800],
    [450, 1550],
  ] as const) {
    carrier.letRest('j');
    const before = rounds();
    await pass(least);
    expect([carrier.isResting('j'), rounds()]).toEqual([true, before]);
    await pass(most - least);
    expect([carrier.isResting('j'), rounds()]).toEqual([false, before + 1]);
    await end();
  }
  carrier.endRest('j');
  carrier.letRest('j');
  await pass(800);
  expect(carrier.isResting('j')).toBe(false);
  carrier.letRest('j');
  carrier.wantAnew();
  expect(carrier.isResting('j')).toBe(false);
});
