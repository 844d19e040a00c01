/**
 * Joints by what drops over them at a known current: Ohm's law, with the crowd of joints as the measure. A good joint of a bar is a
 * fraction of a milliohm, and what a loose or dirty one turns into heat grows with the square of the current.
 */
import { answer, refuse, type Result } from '../result.ts';
import { describeCrowd } from '../stats/robust.ts';

export interface SurveyInput {
  readonly ampere: number;
  readonly joints: readonly { readonly id: string; readonly millivolt: number }[];
  /** Least step that the meter shows. */
  readonly resolutionMillivolt: number;
  /** Current that the heat is told for. */
  readonly heatAmpere?: number | undefined;
}

export interface Joint {
  readonly id: string;
  readonly milliohm: number;
  readonly watt: number;
  readonly modifiedZ: number;
  readonly isOutlier: boolean;
}

export interface Survey {
  readonly medianMilliohm: number;
  /** What one step of the meter is worth: a fault smaller than three of these cannot be seen at this current. */
  readonly leastMilliohm: number;
  readonly joints: readonly Joint[];
}

/** Modified z from which a joint stands out; three steps of the meter are always less than that. */
const [CUTOFF, LEAST_STEPS] = [3.5, 3];
/** Fewer joints are no crowd. */
const FEWEST = 3;

/**
 * Refusals: `empty` without a joint, `impossible` for a current, a resolution or a drop that none can be.
 * @example surveyJoints({ ampere: 10, joints: [{ id: '1', millivolt: 1 }], resolutionMillivolt: 0.1 }).value.joints[0].milliohm // 0.1
 */
export function surveyJoints({ ampere, joints, resolutionMillivolt, heatAmpere = 100 }: SurveyInput): Result<Survey> {
  if (joints.length === 0) return refuse('empty', 'No joint was measured.', ['joints']);
  if (!(ampere > 0)) return refuse('impossible', `The current must be above zero, ${ampere} A came.`, ['ampere']);
  if (!(resolutionMillivolt > 0)) return refuse('impossible', 'The step of the meter must be above zero.', ['resolutionMillivolt']);
  const odd = joints.findIndex((j) => !(j.millivolt >= 0));
  if (odd >= 0)
    return refuse('impossible', `Joint ${joints[odd]?.id}: give the drop without its sign, ${joints[odd]?.millivolt} mV came.`, [
      'joints',
      odd,
    ]);
  const step = resolutionMillivolt / ampere;
  const milliohms = joints.map((j) => j.millivolt / ampere);
  const { median, scale } = describeCrowd(milliohms, step);
  return answer({
    medianMilliohm: median,
    leastMilliohm: LEAST_STEPS * step,
    joints: joints.map(({ id }, i) => {
      const milliohm = milliohms[i] ?? 0;
      const modifiedZ = joints.length < FEWEST ? 0 : (milliohm - median) / scale;
      // only more than its neighbours is a fault: less is a good joint
      const isOutlier = modifiedZ > CUTOFF;
      return { id, milliohm, watt: (heatAmpere * heatAmpere * milliohm) / 1000, modifiedZ, isOutlier };
    }),
  });
}
