import { ServerClock, Stopwatch } from './server-clock.ts';

const SERVER = Date.parse('2026-05-04T10:00:00Z');

describe('the time of the server on this device', () => {
  let wall = 0;
  let monotonic = 0;
  beforeEach(() => {
    localStorage.clear();
    [wall, monotonic] = [Date.parse('2026-05-04T09:00:00Z'), 5000];
    jest.spyOn(Date, 'now').mockImplementation(() => wall);
    jest.spyOn(performance, 'now').mockImplementation(() => monotonic);
  });
  afterEach(() => jest.restoreAllMocks());
  const pass = (second: number): void => {
    wall += second * 1000;
    monotonic += second * 1000;
  };

  it('is that of its last word and the time since, whatever the wall clock says', () => {
    const clock = new ServerClock();
    clock.hear(SERVER);
    pass(90);
    expect(clock.now()).toEqual({ at: new Date(SERVER + 90_000), isSure: true });
    // somebody sets the clock back an hour
    wall -= 3_600_000;
    expect(clock.now()).toEqual({ at: new Date(SERVER + 90_000), isSure: false });
  });

  it('is not sure after a sleep, in which the monotonic clock stood still', () => {
    const clock = new ServerClock();
    clock.hear(SERVER);
    wall += 3_600_000;
    expect(clock.now()).toEqual({ at: new Date(SERVER + 3_600_000), isSure: false });
    clock.hear(SERVER + 3_600_000);
    expect(clock.now().isSure).toBe(true);
  });

  it('passes by whichever clock says more', () => {
    const watch = new Stopwatch();
    pass(4);
    expect(watch.passed()).toBe(4000);
    wall -= 3_600_000;
    expect(watch.passed()).toBe(4000);
    wall += 7_200_000;
    expect(watch.passed()).toBe(3_604_000);
  });

  it('is flagged after a start without the server, and never before what was last heard', () => {
    new ServerClock().hear(SERVER);
    const again = new ServerClock();
    expect(again.now()).toEqual({ at: new Date(SERVER), isSure: false });
    wall = SERVER + 5000;
    expect(again.now()).toEqual({ at: new Date(SERVER + 5000), isSure: false });
  });
});
