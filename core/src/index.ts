/** The core: everything that is computed. The registry of calculations is exported apart, by `@estuarine/core/reckon`. */
export { answer, refuse, REFUSALS, type Answer, type Refusal, type RefusalCode, type Result } from './result.ts';
export { readDecimal, roundTo } from './quantity/decimal.ts';
export { convertTorque, TORQUE_UNITS, type TorqueInUnits, type TorqueUnit } from './quantity/torque.ts';
export { createGenerator, shuffle, type Generator } from './random/generator.ts';
export { describeCrowd, findOutliers, median, type Crowd, type Outliers } from './stats/robust.ts';
export { setForExtension } from './torque/extension.ts';
export {
  CHEMISTRIES,
  findCellVolt,
  NOMINAL_CELL_VOLT,
  PUBLISHED_PARAMETERS,
  type BatteryParameters,
  type Chemistry,
} from './cell/battery-model.ts';
export { findResistance } from './reading/resistance.ts';
export { integrateCapacity } from './reading/capacity.ts';
export { normaliseScanBlocks } from './reading/scan-blocks.ts';
export {
  describeSweepFile,
  readSweepFile,
  sweepColumns,
  SWEEP_FIGURES,
  type ModuleBounds,
  type SweepFile,
  type SweepFigure,
} from './reading/sweep-file.ts';
export type { Column, ColumnKind, TableFault, TableShape } from './reading/table.ts';
export {
  DEFAULT_LIMITS,
  FIGURES,
  figureFormat,
  verdictLimitsSchema,
  type Figure,
  type ModuleVerdict,
  type Verdict,
  type VerdictLimits,
} from './reading/verdict.ts';
export { findExposure, listIslands, type Exposure, type Island } from './pack/exposure.ts';
export { findCuts, type Cuts } from './pack/cuts.ts';
export { postAt, postIndex, postName, readPost } from './pack/post.ts';
export { applyFact, factSchema, UNTOUCHED, type Fact, type PackState } from './pack/fact.ts';
export { blockPlaces, checkProfile, plusSide, profileSchema, type ModuleType, type Profile } from './pack/profile.ts';
export { STAGE_NAMES, STAGES, type Stage } from './pack/stage.ts';
export { arrangeModules } from './match/arrange.ts';
export { compareIds, type PoolModule, type SearchContext, type SearchProgress } from './match/module.ts';
export { repairStack, type PlacedModule } from './match/repair.ts';
export { selectModules } from './match/select.ts';
export { planSchool, STACK_SCHOOLS, type SchoolInput, type SchoolPlan, type StackSchool } from './match/schools.ts';
export {
  actSchema,
  EVENT_VERSION,
  idSchema,
  SCHOOLS,
  SWEEP_KINDS,
  SWEEP_QUANTITIES,
  type Act,
  type ActBody,
  type ActType,
  type EventHeader,
  type JobEvent,
  type School,
  type SweepKind,
} from './job/event.ts';
export {
  countingReading,
  startState,
  twoReadings,
  type ChosenPlan,
  type JobState,
  type Reading,
  type StatedFact,
  type Sweep,
} from './job/state.ts';
export { apply, extend, findOutOfOrder, findSweep, fold } from './job/fold.ts';
export { decide, ROLES, type DecideContext, type Role } from './job/decide.ts';
export { latestSweep, recordModules, rowOf, type ModuleRecord } from './job/figures.ts';
export {
  findHighestPossible,
  findJobExposure,
  findModuleVolts,
  findWorstExposure,
  LIVE_VOLT,
  partingLinks,
  summariseExposure,
  traceExposure,
  worstPack,
  type JobExposure,
  type TracePoint,
} from './job/exposure.ts';
export { isStageDone } from './job/completeness.ts';
export {
  DEFAULT_POLICY,
  MAXIMUM_IMPORT_ROWS,
  policySchema,
  shopActSchema,
  stockModuleSchema,
  type Policy,
  type ShopAct,
  type StockModule,
} from './shop/act.ts';
export { describeStockFile, readStockFile, STOCK_COLUMNS, type StockFile } from './shop/stock-file.ts';
