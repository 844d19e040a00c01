import type { JobSummary } from '@estuarine/contract';
import { filterJobs, type JobFilter } from './job-filter.ts';

function job(number: number, change: Partial<JobSummary> = {}): JobSummary {
  return {
    ...{ jobId: `j${number}`, fold: 2, number, kind: 'wholeRepair', closed: null, closedAt: null, comebackOf: null },
    ...{ vehicleName: 'Grey estate', plate: 'EST 77', customerName: '', profileId: 'p', profileName: 'Dunlin 28', stage: 'intake' },
    ...{
      reachableVolt: 0,
      lapsedVolt: 0,
      proofEndsAt: null,
      waitEndsAt: null,
      lookAt: null,
      stripAt: null,
      rest: null,
      asksCosign: false,
      steadyVolt: null,
      behindVolt: 0,
      highestVolt: 0,
    },
    ...{ measuredCount: 0, moduleCount: 28, rejectCount: 0, hasSource: false, toOrder: 0, lastBy: '', openedAt: '', lastAt: '' },
    ...change,
  };
}

const jobs = [
  job(1),
  job(2, { kind: 'filterService', closed: 'finished', customerName: 'Brine & Daughters' }),
  job(3, { kind: 'filterService', closed: 'brokenOff', plate: '', vehicleName: '' }),
  job(12, { vehicleName: 'Ferry tender', plate: 'TI 122', profileName: 'Curlew 42' }),
];
const numbers = (filter: Partial<JobFilter>): number[] =>
  filterJobs(jobs, { text: '', standing: 'all', kind: 'all', ...filter }).map((j) => j.number);

describe('filterJobs', () => {
  it('keeps open or closed jobs, however they ended, and one kind or all', () => {
    expect(numbers({})).toEqual([1, 2, 3, 12]);
    expect(numbers({ standing: 'open' })).toEqual([1, 12]);
    expect(numbers({ standing: 'closed' })).toEqual([2, 3]);
    expect(numbers({ kind: 'filterService' })).toEqual([2, 3]);
    expect(numbers({ kind: 'diagnosis' })).toEqual([]);
  });

  it.each([
    ['ti 122', [12]],
    ['TENDER curlew', [12]],
    ['brine', [2]],
    ['job 12', [12]],
    ['  ', [1, 2, 3, 12]],
    ['tender dunlin', []],
  ])('finds "%s" by every word in whatever the yard shows of a job', (text, found) => {
    expect(numbers({ text })).toEqual(found);
  });
});
