/**
 * The steps that make this vehicle dead: the usual ones in the shop's order, with what this pack asks for besides. The vehicle
 * maker's service information and local rules stand above every one of them. Common practice, no source, unless one is named.
 */
import { plugWords } from '../pack/plug-words.ts';
import type { Profile } from '../pack/profile.ts';
import type { IsolationPolicy } from './policy.ts';

export type StepKind = 'key' | 'gear' | 'secondPerson' | 'twelveVolt' | 'plug' | 'wait' | 'proof' | 'insulation' | 'extra';

export interface Step {
  readonly id: string;
  readonly kind: StepKind;
  readonly title: string;
  readonly why: string;
  readonly caution: string | null;
  /** Steps that must be older than what this one says: done again, they end it. */
  readonly restsOn: readonly string[];
  /** Whether a qualified lead may go on without it, with a reason. Never the wait, never the proof. */
  readonly canBeOverridden: boolean;
}

const PLUG_WAYS: Record<Profile['plug']['kind'], string> = {
  lever: 'Lever down, then straight out.',
  swing: 'Pull, swing the handle over, draw out.',
  round: 'Turn counter-clockwise, lift.',
  switch: 'Turn from on to off.',
  bolted: 'Two bolts off its cover, then straight out.',
};

/** Steps in order, for a pack and a shop. */
export function planSteps(profile: Profile, policy: IsolationPolicy): Step[] {
  const { plug } = profile;
  const words = plugWords(profile);
  const opensNothing = plug.opensLink === null;
  const twelveVolt: Step = {
    id: 'twelveVolt',
    kind: 'twelveVolt',
    title: '12 V negative off and tucked away',
    why: 'Without 12 V the contactors fall open unloaded, so that the plug is not broken under load.',
    caution: 'Tuck it where it cannot spring back onto its post.',
    canBeOverridden: false,
    restsOn: [],
  };
  const pull: Step = {
    id: 'plug',
    kind: 'plug',
    title: words.title,
    why: `${plug.where}. ${PLUG_WAYS[plug.kind]} ${opensNothing ? 'It opens nothing of the string: it only signals the interlock.' : `It opens link ${plug.opensLink}; each part keeps its own voltage.`}`,
    caution: words.caution,
    canBeOverridden: false,
    restsOn: [],
  };
  const before = profile.isolation.extraSteps.map((e) => e.id);
  const usual: Step[] = [
    {
      id: 'key',
      kind: 'key',
      title: 'Park brake on, ignition off, key out and away',
      why: 'A smart key on the bench nearby can still wake the car: check that the dash says no key.',
      caution: null,
      canBeOverridden: true,
      restsOn: [],
    },
    {
      id: 'gear',
      kind: 'gear',
      title: 'Gloves picked and air-tested',
      why: 'Insulating gloves under leather protectors, eye protection, no metal on hands or neck, insulating mat. An air test before each day’s use (29 CFR 1910.137).',
      caution: 'Colleagues look at each other’s gloves.',
      canBeOverridden: true,
      restsOn: [],
    },
    ...(policy.needsSecondPerson ? [SECOND_PERSON] : []),
    ...(policy.order === 'plugFirst' ? [pull, twelveVolt] : [twelveVolt, pull]),
    {
      id: 'wait',
      kind: 'wait',
      title: 'Wait for the capacitors to drain',
      why: `${waitMinutes(profile, policy)} minutes for this pack, by the server’s clock from the later of plug and 12 V. The wait is not cut short; the meter decides.`,
      caution: 'Do not turn the drive wheels, nor let a raised car’s wheels turn: the motor-generators generate.',
      canBeOverridden: false,
      restsOn: ['twelveVolt', 'plug'],
    },
    {
      id: 'proof',
      kind: 'proof',
      title: `Prove dead at the ${profile.isolation.point.label}`,
      why: 'Known source, plus to minus, leads swapped, each pole to chassis, known source again; then signed.',
      caution: 'Gloves on until it is signed.',
      canBeOverridden: false,
      restsOn: ['key', 'twelveVolt', 'plug', 'wait', ...before],
    },
    ...(policy.needsInsulation ? [INSULATION] : []),
  ];
  const extraBefore = (id: string): Step[] =>
    profile.isolation.extraSteps
      .filter((e) => e.before === id)
      .map((e) => ({ id: e.id, kind: 'extra', title: e.title, why: e.why, caution: e.caution, canBeOverridden: true, restsOn: [] }));
  return usual.flatMap((step) => [...extraBefore(step.id), step]);
}

const SECOND_PERSON: Step = {
  id: 'secondPerson',
  kind: 'secondPerson',
  title: 'A second person knows',
  why: 'Somebody within call knows what is being done and where the plug is kept.',
  caution: null,
  canBeOverridden: true,
  restsOn: [],
};

const INSULATION: Step = {
  id: 'insulation',
  kind: 'insulation',
  title: 'Insulation against the chassis measured',
  why: 'At least 100 ohm per volt of working voltage, 500 while the cables join it to the inverter (UN R100, from memory). A fault to the chassis hides from a reading across the two cables.',
  caution: null,
  canBeOverridden: true,
  restsOn: [],
};

/** Minutes to wait for the capacitors: the longer of the pack's and the shop's. */
export function waitMinutes(profile: Profile, policy: IsolationPolicy): number {
  return Math.max(profile.waits.capacitorMinute, policy.leastWaitMinute);
}
