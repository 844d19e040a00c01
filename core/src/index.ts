/** The core: everything that is computed. The registry of calculations is exported apart, by `@estuarine/core/reckon`. */
export { answer, refuse, REFUSALS, type Answer, type Refusal, type RefusalCode, type Result } from './result.ts';
export { readDecimal, roundTo } from './quantity/decimal.ts';
export { convertTorque, TORQUE_UNITS, type TorqueInUnits, type TorqueUnit } from './quantity/torque.ts';
export { createGenerator, shuffle, type Generator } from './random/generator.ts';
export { describeCrowd, findOutliers, median, type Crowd, type Outliers } from './stats/robust.ts';
export { addMonths, daysBetween, isTimeZone, localTime, nextTimeOfDay, type CalendarDate } from './quantity/calendar.ts';
export {
  findDue,
  gearPolicySchema,
  suggestGear,
  whyNotPick,
  type Due,
  type GearPolicy,
  type GearUse,
  type Suggestion,
} from './gear/due.ts';
export { GEAR_NAMES, gearSchema, GLOVE_VOLT_DC, lastCheck, withCheck, type Gear, type GearKind, type GearOf } from './gear/gear.ts';
export { fitDecay, type Decay, type DecayVerdict, type TimedReading } from './isolate/decay.ts';
export { dischargeVolt, findDischarge, type Discharge } from './isolate/discharge.ts';
export { findGloveNeed, type GloveNeed } from './isolate/gloves.ts';
export { findFaultPlace, findInsulation, REQUIRED_OHM_PER_VOLT, type Insulation } from './isolate/insulation.ts';
export { isolationPolicySchema, type IsolationPolicy } from './isolate/policy.ts';
export { planSteps, waitMinutes, type Step, type StepKind } from './isolate/procedure.ts';
export {
  judgeProof,
  PROOF_ENTRIES,
  proofEntryName,
  sayTime,
  type ProofEntry,
  type ProofFinding,
  type ProofReading,
  type ProofVerdict,
} from './isolate/proof.ts';
export {
  balanceLedger,
  countInPlace,
  findLookAlikes,
  findMixedCells,
  listBackwards,
  type Balance,
  type LeftOff,
  type Lot,
  type Movement,
  type PartBalance,
} from './ledger/ledger.ts';
export { CONDITION_NAMES, CONDITIONS, isAtHand, isFit, spotKey, spotName, TRAY, type Condition, type Spot } from './ledger/spot.ts';
export { suggestCell, trayCells } from './ledger/tray.ts';
export { findLift, type LiftAnswer, type Multipliers } from './lift/niosh.ts';
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
export { applyFact, factSchema, isSameFact, isTouch, UNTOUCHED, type Fact, type PackState } from './pack/fact.ts';
export {
  blockPlaces,
  checkProfile,
  PLUG_KINDS,
  plusSide,
  profileSchema,
  type ModuleType,
  type PlugKind,
  type Profile,
} from './pack/profile.ts';
export {
  COUPLINGS,
  FATES,
  PART_KINDS,
  partSchema,
  PLAN,
  type Fate,
  type Layer,
  type LiftOut,
  type Part,
  type PartKind,
  type Transfer,
  type Zone,
} from './pack/parts.ts';
export { compareOrientation, cornerName, CORNERS, expectedCorner, type Corner, type Orientation } from './pack/orientation.ts';
export { readProfile } from './pack/read-profile.ts';
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
  type IsolationState,
  type JobState,
  type Finding,
  type Mark,
  type Photo,
  type ProofRecord,
  type Reading,
  type StatedFact,
  type Sweep,
} from './job/state.ts';
export {
  FINDING_KINDS,
  FOLLOW_UPS,
  PHOTO,
  SEVERITIES,
  type FindingKind,
  type FollowUp,
  type Pin,
  type Severity,
} from './job/strip-acts.ts';
export {
  findInterruption,
  findLedger,
  findPackLift,
  knownParts,
  listLayers,
  listPlaces,
  listTransfers,
  type Interruption,
  type LayerView,
  type PlaceView,
  type TransferView,
} from './job/strip.ts';
export { orderCuts, type CutOrder, type CutStep } from './job/opening.ts';
export { adoptPart, recallJobs, rememberJob, type FoundPart, type Hint, type JobMemory, type ShopMemory } from './shop/memory.ts';
export { apply, extend, findOutOfOrder, findSweep, fold } from './job/fold.ts';
export { findIsolation, findStanding, findWait, type Isolation, type Standing, type StepStatus, type StepView } from './job/isolation.ts';
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
  competenceSchema,
  DEFAULT_POLICY,
  instrumentSchema,
  MAXIMUM_IMPORT_ROWS,
  personIdSchema,
  policySchema,
  shopActSchema,
  stockModuleSchema,
  type Competence,
  type Instrument,
  type Policy,
  type ShopAct,
  type StockModule,
} from './shop/act.ts';
export { whyNotSign } from './shop/competence.ts';
export { describeStockFile, readStockFile, STOCK_COLUMNS, type StockFile } from './shop/stock-file.ts';
