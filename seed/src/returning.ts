/** What the demonstration's jobs put back and how their cars woke: acts in the order a technician would record them. */
import {
  blockPlaces,
  findLedger,
  isAtHand,
  isFit,
  listBackwards,
  refitOf,
  type Act,
  type ActBody,
  type JobState,
  type PartBalance,
  type Profile,
} from '@estuarine/core';
import { round } from './modules.ts';

/** All that must be on before the wake, or before the car moves, each piece from where it lies; what was lost or broken is new. */
export function putBack(state: JobState, profile: Profile, before: 'wake' | 'drive'): Act[] {
  const { missingForWake, missingForDrive } = refitOf(state, profile);
  const wanted = new Set((before === 'wake' ? missingForWake : missingForDrive).map((b) => b.part.id));
  return listBackwards(findLedger(state, profile))
    .filter((b) => wanted.has(b.part.id))
    .flatMap(backOf);
}

function backOf({ part, owed, lots }: PartBalance): Act[] {
  const acts: Act[] = [];
  let left = owed;
  const move = (from: ActBody<'part.moved'>['from'], count: number, condition: ActBody<'part.moved'>['condition']): void => {
    left -= count;
    acts.push({ type: 'part.moved', body: { stage: 'refit', partId: part.id, count, from, to: { kind: 'inPlace' }, condition } });
  };
  for (const { spot, condition, count } of lots)
    if (isAtHand(spot) && isFit(condition) && left > 0 && count > 0) move(spot, Math.min(left, count), condition);
  if (left > 0) move({ kind: 'new' }, left, 'good');
  return acts;
}

/** Every group that is in and not tight yet. */
export function tightenAll(state: JobState, profile: Profile): Act[] {
  return refitOf(state, profile)
    .groups.filter((g) => !g.isTight && g.part.torque !== null)
    .map(({ part }) => ({ type: 'group.tightened', body: { partId: part.id, newtonMetre: part.torque?.newtonMetre ?? 1 } }));
}

/** A scan of a car whose blocks lie close together but for one. */
export function scanOf(
  profile: Profile,
  moment: ActBody<'car.scanned'>['moment'],
  weak: { readonly block: number; readonly lackVolt: number } | null,
  codes: ActBody<'car.scanned'>['codes'],
): Act {
  const volt = profile.moduleType.nominalVolt * 1.09;
  const blockVolts = blockPlaces(profile.blocks).map(({ from, to }, i) =>
    round((to - from + 1) * volt + 0.01 * ((i * 5) % 4) - (weak?.block === i + 1 ? weak.lackVolt : 0), 2),
  );
  return {
    type: 'car.scanned',
    body: {
      ...{ moment, reader: 'Scan reader (simulated)', readerVersion: 'driver 1', isSimulated: true, codes, blockVolts },
      readiness: { isLampOn: codes.length > 0, codeCount: codes.filter((c) => c.status === 'stored').length, incomplete: [] },
      packVolt: round(
        blockVolts.reduce((a, b) => a + b, 0),
        1,
      ),
      ...{ celsius: profile.sensors.map((_, i) => 24 + i), ampere: 0, chargePercent: 62 },
    },
  };
}
