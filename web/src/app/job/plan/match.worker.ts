/** Computes one school's stack off the main thread. Cancelling ends the worker. */
import { planSchool, type Result, type SchoolInput, type SchoolPlan, type SearchProgress, type StackSchool } from '@estuarine/core';
import * as comlink from 'comlink';

function plan(school: StackSchool, input: SchoolInput, onProgress: (progress: SearchProgress) => void): Result<SchoolPlan> {
  return planSchool(school, input, { now: () => performance.now(), onProgress });
}

export type PlanFunction = typeof plan;

comlink.expose(plan);
