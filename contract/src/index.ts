/** What crosses a wall: acts, events, answers, problems. */
export * from './act.ts';
export * from './answers.ts';
export * from './problem.ts';
