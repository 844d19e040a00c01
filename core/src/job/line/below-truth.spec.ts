/** Acts after which an earlier release showed less than was true, as they were said and kept: seven cases that random work found. */
import { readFileSync } from 'node:fs';
import { GEAR, shippedProfile } from '../../../test/job-fixture.ts';
import { gearPolicySchema } from '../../gear/due.ts';
import { isolationPolicySchema } from '../../isolate/policy.ts';
import { DEFAULT_POLICY } from '../../shop/act.ts';
import { stampOf, type DeviceWord } from '../chapters/stamp.ts';
import type { Act, JobEvent } from '../frame/acts.ts';
import { decide } from '../frame/decide.ts';
import { extend } from '../frame/fold.ts';
import { startState, type JobState } from '../frame/state.ts';
import { viewJob } from './view-job.ts';

interface Said {
  readonly commandId: string;
  readonly by: string;
  readonly at: string;
  readonly deviceAt: string;
  readonly device: DeviceWord;
  readonly act: Act;
}

interface Case {
  readonly profileId: string;
  readonly seed: number;
  readonly now: number;
  readonly kept: readonly Said[];
  /** What a screen showed then, what was true, and what waited on its device. */
  readonly screens: readonly { readonly who: string; readonly shown: number; readonly truth: number; readonly waiting: readonly Said[] }[];
}

const CASES = JSON.parse(readFileSync(new URL('../../../test/fixtures/below-truth.json', import.meta.url), 'utf8')) as Case[];

/** The acts kept one after the other as the server keeps them, each with what it means besides. */
function keepAll({ profileId, kept }: Case): JobState {
  const profile = shippedProfile(profileId);
  const moduleIds = Array.from({ length: profile.moduleCount }, (_, i) => `m${i + 1}`);
  const at = '2026-05-04T08:00:00.000Z';
  const opening: Act = {
    type: 'job.opened',
    body: {
      ...{ number: 1, profileId, profileVersion: profile.version, policyVersion: 1, kind: 'wholeRepair', moduleIds },
      ...{ vehicle: { id: 'v', hash: '0'.repeat(64) }, customer: null, comebackOf: null },
    },
  };
  let state = extend(startState(profile), profile, [{ number: 1, commandId: 'open', by: 'om', at, deviceAt: at, ...opening }]);
  for (const { act, ...header } of kept) {
    const stamp = stampOf({ number: state.head + 1, ...header });
    const decided = decide(state, act, {
      ...{ profile, by: header.by, role: 'lead', whyNotFree: () => null, whyNotSign: null, stamp, now: Date.parse(header.at) },
      ...{ shelfCapacityAh: () => null, provenRange: () => null },
      isolation: isolationPolicySchema.parse({ leastWaitMinute: 0 }),
      gearPolicy: gearPolicySchema.parse({}),
      findGear: (id) => GEAR.find((g) => g.gearId === id) ?? null,
    });
    if (decided.kind === 'answer')
      for (const one of decided.value) state = extend(state, profile, [{ number: state.head + 1, ...header, ...one }]);
  }
  return state;
}

it.each(CASES.flatMap((c) => c.screens.map((screen) => [c.profileId, c.seed, screen.who, screen.truth, c, screen] as const)))(
  '%s, %i, %s shows at least %d V',
  (profileId, _seed, _who, truth, one, { waiting }) => {
    const acts = waiting.map(({ act, ...header }): JobEvent => ({ number: 0, ...header, ...act }));
    const { exposure } = viewJob(keepAll(one), acts, shippedProfile(profileId), DEFAULT_POLICY, one.now);
    expect(exposure.reachable.volt).toBeGreaterThanOrEqual(truth - 1e-3);
  },
);
