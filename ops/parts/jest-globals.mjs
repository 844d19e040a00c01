/** What specs import from `@jest/globals`, for a run of them without Jest around: see `mutant-runner.mjs`. */
import { ModernFakeTimers } from '@jest/fake-timers';
import { ModuleMocker } from 'jest-mock';

const mocker = new ModuleMocker(globalThis);
const timers = new ModernFakeTimers({ config: { fakeTimers: {}, rootDir: '' }, global: globalThis });

export const jest = {
  fn: mocker.fn.bind(mocker),
  spyOn: mocker.spyOn.bind(mocker),
  restoreAllMocks: () => mocker.restoreAllMocks(),
  useFakeTimers: (config) => timers.useFakeTimers(config),
  useRealTimers: () => timers.useRealTimers(),
  advanceTimersByTime: (millisecond) => timers.advanceTimersByTime(millisecond),
};
