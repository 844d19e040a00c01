/** Kinds of jobs, with the stages each uses and what each asks for before it can be closed. Common practice, no source. */
import type { Stage } from '../../../pack/stage.ts';

export const JOB_KINDS = ['wholeRepair', 'exchange', 'benchOnly', 'filterService', 'fanCleaning', 'diagnosis'] as const;
export type JobKind = (typeof JOB_KINDS)[number];

export const JOB_KIND_NAMES: Record<JobKind, string> = {
  wholeRepair: 'Whole repair',
  exchange: 'Exchange pack',
  benchOnly: 'Bench only',
  filterService: 'Filter service',
  fanCleaning: 'Fan cleaning',
  diagnosis: 'Diagnosis',
};

/** Whether the car is scanned as it came, or it is said why not, before its intake is done. */
export function asksScanAsFound(kind: JobKind): boolean {
  return kind === 'wholeRepair' || kind === 'diagnosis' || kind === 'exchange';
}

/** What a job must come to before it is closed as finished. */
export const NEEDS = [
  'packBack',
  'ledgerSquare',
  'sourceOff',
  'planChosen',
  'tested',
  'somethingFound',
  'cooled',
  'woken',
  'scanned',
  'causesAnswered',
] as const;
export type Need = (typeof NEEDS)[number];

interface KindRule {
  readonly stages: readonly Stage[];
  /** Whether the modules of the pack are named when the job opens. */
  readonly namesModules: boolean;
  readonly needs: readonly Need[];
}

const CAR: readonly Stage[] = ['intake', 'isolate', 'strip'];
const CLOSED: readonly Need[] = ['packBack', 'ledgerSquare', 'sourceOff'];

export const KIND_RULES: Record<JobKind, KindRule> = {
  wholeRepair: {
    stages: [...CAR, 'open', 'test', 'match', 'rebuild', 'cool', 'refit', 'handOver'],
    namesModules: true,
    needs: ['tested', 'planChosen', ...CLOSED, 'cooled', 'woken', 'scanned', 'causesAnswered'],
  },
  exchange: {
    stages: [...CAR, 'cool', 'refit', 'handOver'],
    namesModules: false,
    needs: [...CLOSED, 'cooled', 'woken', 'scanned', 'causesAnswered'],
  },
  // the pack came without its car
  benchOnly: {
    stages: ['intake', 'open', 'test', 'match', 'rebuild', 'handOver'],
    namesModules: true,
    needs: ['tested', 'ledgerSquare', 'sourceOff'],
  },
  filterService: { stages: ['intake', 'cool', 'handOver'], namesModules: false, needs: [...CLOSED, 'cooled'] },
  fanCleaning: { stages: [...CAR, 'cool', 'refit', 'handOver'], namesModules: false, needs: [...CLOSED, 'cooled', 'woken'] },
  diagnosis: { stages: ['intake', 'isolate', 'test', 'cool', 'handOver'], namesModules: false, needs: ['somethingFound', ...CLOSED] },
};
