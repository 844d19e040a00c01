/** The core: everything that is computed. The registry of calculations is exported apart, by `@estuarine/core/reckon`. */
export { answer, refuse, REFUSALS, type Answer, type Refusal, type RefusalCode, type Result } from './result.ts';
export { readDecimal, roundTo } from './quantity/decimal.ts';
export { convertTorque, TORQUE_UNITS, type TorqueInUnits, type TorqueUnit } from './quantity/torque.ts';
export { createGenerator, shuffle, type Generator } from './random/generator.ts';
export { describeCrowd, findOutliers, median, type Crowd, type Outliers } from './stats/robust.ts';
export { findBesides, leaveOutBesides } from './photo/jpeg.ts';
export { addMonths, daysBetween, isTimeZone, localTime, nextTimeOfDay, type CalendarDate } from './quantity/calendar.ts';
export {
  findAhead,
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
export {
  CHEMISTRY_NAMES,
  COOLING_NAMES,
  COOLINGS,
  coolingOf,
  filterProfiles,
  PLUG_KIND_NAMES,
  sayPlug,
  sayString,
  type Cooling as PackCooling,
  type PackWanted,
} from './pack/tell-pack.ts';
export {
  findHands,
  findYardWait,
  LANE_NAMES,
  LANES,
  sortLane,
  type Hands,
  type Lane,
  type YardJob,
  type YardWait,
  type YardWaitKind,
} from './shop/lanes.ts';
export { compareProfiles, type ProfileChange } from './pack/compare-profiles.ts';
export { slugOf, startProfile, type PackSketch } from './pack/start-profile.ts';
export { KEY_PLACES, plugWords, type PlugWords } from './pack/plug-words.ts';
export { findTakenCells, listStillIn, listTakenTogether, takeOffWhole, usualSpot, type WholeMove } from './ledger/whole-place.ts';
export { findLift, type LiftAnswer, type Multipliers } from './lift/niosh.ts';
export { checkBars, BAR_FAULTS, type BarFault, type BarsAnswer, type BarsInput } from './bars/check.ts';
export { setForExtension } from './torque/extension.ts';
export { findClampLoad, type ClampLoad } from './torque/clamp-load.ts';
export { findSlip, isTorqueWithin, showTorque, SLIPS, type Slip } from './torque/slips.ts';
export { coverTools, judgeTools, usableRange, type Cover, type JudgedTool, type TorqueTool } from './torque/tools.ts';
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
export { codesOf, figureOf, readinessOf, type CarLoad, type HiddenCar } from './practice/hidden-car.ts';
export { countUndoing, findHomes, type LikelyHome } from './ledger/left-over.ts';
export { NIMH_CELL_VOLT, normaliseScanBlocks, type JudgedBlock } from './reading/scan-blocks.ts';
export { findBarRests, type BarRest, type LoadedBlocks } from './scan/bar-rest.ts';
export {
  CODE_FATE_NAMES,
  followCodes,
  SCAN_MOMENT_NAMES,
  SCAN_MOMENTS,
  type CodeFate,
  type FollowedCode,
  type ScanMoment,
} from './scan/codes.ts';
export { findDrain, findUnlike, shareOfNew, type DrainConditions, type DrainFound, type DrainSample } from './scan/drain.ts';
export {
  CLEAR_SERVICE,
  CODE_PATTERN,
  CODE_SERVICES,
  CODE_STATUSES,
  codeBytes,
  readAnswer,
  readCodes,
  READINESS_REQUEST,
  readReadiness,
  writeCode,
  type Answered,
  type CodeStatus,
  type Readiness,
} from './scan/general.ts';
export {
  blockStepVolt,
  listRequests,
  readFigures,
  SCAN_SERVICES,
  writeFigures,
  type ScanMap,
  type Scanned,
  type ScannedFigures,
} from './scan/scan-map.ts';
export { readScan, type ReadScan } from './scan/read-scan.ts';
export { FLOW_ON, isFlowOn, MessageJoiner, splitMessage, type FrameData } from './scan/transport.ts';
export { explainWiring, type Explanation, type WiringFault } from './scan/wiring.ts';
export {
  describeSweepFile,
  readSweepFile,
  scaleFigure,
  sweepColumns,
  SWEEP_FIGURES,
  type SweepFile,
  type SweepFigure,
  type SweepTarget,
} from './reading/sweep-file.ts';
export { writeUnit, type Column, type ColumnKind, type TableFault, type TableShape } from './reading/table.ts';
export {
  DEFAULT_LIMITS,
  FIGURES,
  figureFloor,
  figureFormat,
  sentencesAgainst,
  isAgainst,
  verdictLimitsSchema,
  type Figure,
  type ModuleVerdict,
  type Verdict,
  type VerdictLimits,
  type VerdictReason,
} from './reading/verdict.ts';
export { findExposure, listIslands, type Exposure, type Island } from './pack/exposure.ts';
export { findCuts, type Cuts } from './pack/cuts.ts';
export { postAt, postIndex, postName, readPost } from './pack/post.ts';
export { applyFact, factSchema, isSameFact, type Fact } from './pack/fact.ts';
export { applyEffect, wholePack, type Effect, type PackState, type Place } from './pack/effect.ts';
export { listOpenBars, listOpenLinks, type Join } from './pack/join.ts';
export {
  blockPlaces,
  checkProfile,
  moduleTypeSchema,
  PLUG_KINDS,
  plusSide,
  PROFILE_SCHEMA_VERSION,
  profileSchema,
  stringVolt,
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
export { findHindrance, HINDRANCES, whyNotInPack, whyNotTake, type Hindrance, type Whereabouts } from './match/taking.ts';
export { hidePack, leadVolt, type HiddenPack } from './practice/hidden-pack.ts';
export { mixedEvents } from './practice/mixed-events.ts';
export { NO_HASH } from './job/chapters/intake/upgrades.ts';
export { selectModules } from './match/select.ts';
export { planSchool, STACK_SCHOOLS, type SchoolInput, type SchoolPlan, type StackSchool } from './match/schools.ts';
export { isSamePoint, POINTS, provesCarSide, type Point } from './pack/point.ts';
export {
  guessFactor,
  guessMeant,
  isWithin,
  likelyRange,
  MODULE_QUANTITIES,
  possibleRange,
  QUANTITIES,
  sayImpossible,
  type UnitQuestion,
  sayUnlikely,
  showQuantity,
  type ModuleQuantity,
} from './quantity/module-quantities.ts';
export { ROLES, type DecideContext, type EventHeader, type JobWrite, type Mark, type Role, type Trait } from './job/chapters/chapter.ts';
export { idSchema, numberSchema, version as versionSchema } from './job/chapters/words.ts';
export {
  customerSchema,
  OUTCOMES,
  VEHICLE_USE_NAMES,
  VEHICLE_USES,
  vehicleSchema,
  type Customer,
  type NamedRow,
  type Outcome,
  type UseNote,
  type VehicleUse,
  type Vehicle,
} from './job/chapters/intake/acts.ts';
export { asksScanAsFound, JOB_KIND_NAMES, JOB_KINDS, KIND_RULES, type JobKind } from './job/chapters/intake/kinds.ts';
export { SCHOOL_NAMES, SCHOOLS, type School } from './job/chapters/plan/acts.ts';
export { planCapacities } from './job/chapters/plan/decide.ts';
export type { ChosenPlan } from './job/chapters/plan/state.ts';
export { TOOL_READS } from './job/chapters/rebuild/acts.ts';
export type { BarsReadied, Setting } from './job/chapters/rebuild/state.ts';
export {
  findBarsReady,
  findHalves,
  findLeak,
  findPasteView,
  findSurvey,
  type BarsReady,
  type HalfView,
  type PasteView,
} from './job/chapters/rebuild/measured.ts';
export { listSides, type StackSide } from './job/chapters/rebuild/sides.ts';
export { findTorqueGroup, placesOfSeats, type Seat, type TorqueGroup } from './job/chapters/rebuild/torque-view.ts';
export { LOOK_PICTURES, type LookPicture } from './job/chapters/rebuild/look-pictures.ts';
export { heldBar, heldFrame, joinedLinks, tryFrame, type Held, type InHand, type Tried } from './job/chapters/rebuild/trial.ts';
export {
  findRebuild,
  isBegunTight,
  isRebuilt,
  placesOf,
  sayRebuildNext,
  type LaidPlace,
  type Rebuild,
  type RebuildScene,
  type RebuildStep,
} from './job/chapters/rebuild/view.ts';
export { LOOK_NAMES, LOOKS, SIDE_UP_NAMES, SIDES_UP, type Coolant, type Look, type SideUp, type WayUpStep } from './pack/way-up.ts';
export { findInstead, type Instead } from './match/instead.ts';
export { CLEANING_SCHOOLS, FAN_NOISES, type CleaningSchool } from './job/chapters/cool/acts.ts';
export {
  compareDamage,
  findCoolEffect,
  findDriven,
  findReturned,
  USUAL_BASIS,
  type CoolEffect,
  type DamageAgreement,
  type DrivenAir,
  type ReturnedAir,
} from './job/chapters/cool/effect.ts';
export { findLookAt, lookAfter, monthsSinceClean, proposeLook, type EarlierLook } from './job/chapters/cool/looks.ts';
export { REFIT_CHECKS, SPARKS, type RefitCheck, type Spark } from './job/chapters/refit/acts.ts';
export { type Refit, type RefitRoom, type RefitStep, type TightenGroup } from './job/chapters/refit/view.ts';
export { viewScan, type KeptScan, type ScanView } from './job/line/scan-view.ts';
export { findHandOver, type HandOver, type HandOverStep } from './job/frame/handing-over.ts';
export { explainComeback, type ComebackCause } from './job/line/comeback.ts';
export { refitOf } from './job/frame/refitting.ts';
export { AUXILIARY_KINDS, judgeAuxiliary, type AuxiliaryVerdict } from './cell/twelve-volt.ts';
export { WAKE_SIGN_NAMES, WAKE_SIGNS, type Wake, type WakeSign } from './pack/wake.ts';
export { findCooling, type AirPart, type Cooling } from './job/chapters/cool/view.ts';
export { AIR_CHECK_NAMES, AIR_WORD_EFFECTS, AIR_WORD_NAMES, wordsOf as airWordsOf, type AirCheck, type AirWord } from './cool/air-words.ts';
export { turnFan, type HiddenFan } from './practice/hidden-fan.ts';
export { judgeByCurve, type FanPoint } from './cool/fan.ts';
export { USE_NAMES, USES, type Interval, type Use } from './cool/interval.ts';
export { findCoolStack, type CoolStack } from './cool/stack.ts';
export { judgeHalf, type Half } from './bars/halves.ts';
export { orderBars, type BarsOrder, type BarsOrderInput } from './bars/order.ts';
export { surveyJoints, type Joint, type Survey } from './bars/survey.ts';
export { fitLeak, type Leak } from './coolant/leak.ts';
export { findPaste } from './coolant/paste.ts';
export { RECOVERED, SWEEP_KINDS, SWEEP_QUANTITIES, type SweepKind } from './job/chapters/sweep/acts.ts';
export { countingReading, findSweep, twoReadings, type Reading, type Sweep } from './job/chapters/sweep/state.ts';
export {
  capacityOf,
  findRest,
  keysOf,
  latestSweep,
  proposeMends,
  recordModules,
  rowOf,
  type ModuleRecord,
  type ProposedMend,
} from './job/chapters/sweep/view.ts';
export {
  FINDING_KINDS,
  FOLLOW_UPS,
  PHOTO,
  SEVERITIES,
  type FindingKind,
  type FollowUp,
  type Pin,
  type Severity,
} from './job/chapters/finding/acts.ts';
export { FINDING_WORDS, FOLLOW_WORDS, sayPin, SEVERITY_WORDS } from './job/chapters/finding/finding-words.ts';
export type { Finding, Photo } from './job/chapters/finding/state.ts';
export type { IsolateState, ProofRecord } from './job/chapters/isolate/state.ts';
export {
  findIsolation,
  findStanding,
  findSteady,
  findWait,
  type Isolation,
  type Standing,
  type Steady,
  type StepStatus,
  type StepView,
} from './job/chapters/isolate/view.ts';
export {
  CAUSE_NAMES,
  CAUSES,
  CORE_CHECK_NAMES,
  CORE_KINDS,
  MOST_PHOTOS,
  type Cause,
  type CoreCheck,
} from './job/chapters/hand-over/acts.ts';
export { findCauses, findCoreDesk, findOffers, type CoreDesk } from './job/chapters/hand-over/view.ts';
export { judgeTerms, type JudgedCondition } from './job/line/warranty-view.ts';
export {
  CONDITION_KINDS,
  readTerms,
  sayCondition,
  TERMS_FORMAT,
  termsSchema,
  type Condition as SupplierCondition,
  type ConditionKind,
  type SupplierTerms,
} from './warranty/terms.ts';
export { MARK_INKS, MARK_PATHS, type Mark as DrawnMark } from './drawing/marks.ts';
export { layOutPack, nearestLink, nearestPlace, SLAB_HEIGHT, type PackLayout } from './drawing/pack-layout.ts';
export { drawBars, type BarPair, type BarWords } from './drawing/bar-chart.ts';
export { drawPack, type PlaceShown } from './drawing/pack-picture.ts';
export { drawPairs, type Pair } from './drawing/pair-chart.ts';
export { DAY_INKS, INKS, writeSvg, type Ink, type Picture, type Shape, type SvgFonts } from './drawing/picture.ts';
export { drawLine } from './job/line/line-shape.ts';
export { drawExposureLine } from './job/line/line-picture.ts';
export { composeReport } from './report/report.ts';
export type { Report, ReportBlock, ReportInput, TableColumn } from './report/blocks.ts';
export { knownParts } from './job/chapters/strip/state.ts';
export {
  findLedger,
  findPackLift,
  followingPlace,
  liftQuestion,
  listPlaces,
  listTransfers,
  type PlaceView,
  type TransferView,
} from './job/chapters/strip/view.ts';
export { nameAct, SAMPLE_JOB, sampleOf } from './job/frame/said.ts';
export { ACT_TRAITS, ACT_TYPES, actSchema, isActType, type Act, type ActBody, type ActType, type JobEvent } from './job/frame/acts.ts';
export { isStageDone } from './job/frame/completeness.ts';
export { findUnmet } from './job/frame/closing.ts';
export { stagesOf } from './job/frame/stages.ts';
export { listCountsThatDiffer, listDisagreements, type Disagreement } from './job/frame/counted-hazards.ts';
export { passThrough } from './job/frame/waiting.ts';
export { deviceSchema, stampOf, type DeviceWord } from './job/chapters/stamp.ts';
export type { Question, QuestionAnswer } from './job/line/questions.ts';
export { EXCESS_CAUSES, type Excess } from './job/line/excess.ts';
export { decide, isAtLeast } from './job/frame/decide.ts';
export { copyPlain } from './job/frame/copy.ts';
export { apply, extend, fold, inTimeOf } from './job/frame/fold.ts';
export { FOLD_VERSION, findSurplus, readEvent, upgradeBody, versionOf, type StoredAct, type StoredEvent } from './job/frame/read-event.ts';
export {
  jobStateSchema,
  moduleIdsOf,
  restingVolts,
  startState,
  writeState,
  type JobState,
  type PassedWord,
  type StatedFact,
  type Undoable,
} from './job/frame/state.ts';
export { findHighestPossible, findJobExposure, findWorstExposure, summariseExposure, type JobExposure } from './job/line/exposure.ts';
export { linksParted, listWithoutEffect, sayEffect } from './pack/part-effects.ts';
export { findInsulationFault, type FaultPlace } from './job/line/fault-place.ts';
export { findNextStep, type NextStep } from './job/line/next-step.ts';
export { findInterruption, type Interruption } from './job/line/interruption.ts';
export { listLayers, type LayerView } from './job/line/layers.ts';
export { orderCuts, type CutOrder, type CutStep } from './job/line/opening.ts';
export { traceExposure, type TracePoint } from './job/line/trace.ts';
export { JobViewer, viewJob, type JobView } from './job/line/view-job.ts';
export { findModuleVolts, LIVE_VOLT, partingLinks } from './job/line/volts.ts';
export { findFigures, type FigureJob, type QuotedProfile, type ShopFigures } from './shop/figures.ts';
export { adoptPart, type FoundPart } from './shop/found-part.ts';
export { recallJobs, type Hint, type ShopMemory } from './shop/recall.ts';
export { rememberJob, type JobMemory } from './shop/remember.ts';
export {
  competenceSchema,
  DEFAULT_POLICY,
  instrumentSchema,
  moneyPolicySchema,
  wordingPolicySchema,
  MAXIMUM_IMPORT_ROWS,
  personIdSchema,
  policySchema,
  shopActSchema,
  SHOP_ACT_ROLES,
  SHOP_EVENT_VERSION,
  stockModuleSchema,
  type Competence,
  type Instrument,
  type Policy,
  type ShopAct,
  type ShopActBody,
  type ShopActType,
  type StockModule,
} from './shop/act.ts';
export { whyNotSign } from './shop/competence.ts';
export { touchOf, touchOfDrop, type Touch } from './shop/touch.ts';
export {
  describeStockFile,
  readStockFile,
  refuseStock,
  scaleStock,
  stockColumns,
  type StockFile,
  type StockTarget,
} from './shop/stock-file.ts';
