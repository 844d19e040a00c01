/** What crosses a wall: acts, events, answers, problems. */
export { sentActSchema, sentShopActSchema, SHOP_STREAM, type KeptAct, type SentAct, type SentShopAct, type StreamedEvent } from './act.ts';
export type {
  DemoAccount,
  GearAnswer,
  GearRow,
  InstrumentRow,
  JobAnswer,
  JobSummary,
  MeasureAnswer,
  PeopleAnswer,
  Person,
  PolicyAnswer,
  ProfileAnswer,
  Session,
  StockAnswer,
  StockRow,
} from './answers.ts';
export { PROBLEM_PREFIX, problemCode, problemSchema, type Problem } from './problem.ts';
