/** A scan of a car: codes of its units by the general services, figures of the battery unit by the identifiers of its profile. */
import type { ScanAnswer, WatchAnswer } from '@estuarine/contract';
import {
  CLEAR_SERVICE,
  CODE_SERVICES,
  CODE_STATUSES,
  listRequests,
  readCodes,
  readFigures,
  READINESS_REQUEST,
  readReadiness,
  type Result,
  type ScanMap,
} from '@estuarine/core';
import { CanLine, UnitRefused, type CanOptions, type Unit } from './can-line.ts';
import { InstrumentSilent } from './scpi.ts';

/** Version of this driver, kept with every scan that it makes. */
export const SCAN_DRIVER = 'driver 1';

/** The unit that answers the general services of every car (ISO 15765-4, from memory). */
const DRIVE_UNIT: Unit = { name: 'drive unit', requestId: 0x7e0, answerId: 0x7e8 };

function batteryUnit({ requestId, answerId }: ScanMap): Unit {
  return { name: 'battery unit', requestId, answerId };
}

type Figures = Pick<ScanAnswer, 'blockVolts' | 'packVolt' | 'celsius' | 'ampere' | 'chargePercent'>;
const NO_FIGURES: Figures = { blockVolts: [], packVolt: null, celsius: [], ampere: null, chargePercent: null };

/** All that a car says. Throws {@link InstrumentSilent} or {@link UnitRefused}; nothing of a scan that broke off is given. */
export async function scanCar(options: CanOptions, map: ScanMap | null): Promise<Omit<ScanAnswer, 'reader' | 'isSimulated'>> {
  return withLine(options, async (line) => {
    const codes: ScanAnswer['codes'][number][] = [];
    const units = [DRIVE_UNIT, ...(map && map.requestId !== DRIVE_UNIT.requestId ? [batteryUnit(map)] : [])];
    for (const unit of units)
      for (const status of CODE_STATUSES) {
        const found = await askIfKnown(line, unit, [CODE_SERVICES[status]]);
        for (const code of found ? must(readCodes(found)) : [])
          if (!codes.some((c) => c.code === code && c.status === status)) codes.push({ code, status });
      }
    const ready = await askIfKnown(line, DRIVE_UNIT, READINESS_REQUEST);
    const readiness = ready && must(readReadiness(ready));
    return {
      ...{ readerVersion: SCAN_DRIVER, codes },
      readiness: readiness && { ...readiness, incomplete: [...readiness.incomplete] },
      ...(map ? await readMapped(line, map) : NO_FIGURES),
    };
  });
}

/** The figures of the battery unit alone: some times a second, for a chart. */
export async function watchCar(options: CanOptions, map: ScanMap): Promise<WatchAnswer> {
  return withLine(options, async (line) => ({ readerVersion: SCAN_DRIVER, ...(await readMapped(line, map)) }));
}

/** Clears the codes of every unit; permanent ones stay until the car finds the fault gone itself. */
export async function clearCar(options: CanOptions, map: ScanMap | null): Promise<void> {
  await withLine(options, async (line) => {
    for (const unit of [DRIVE_UNIT, ...(map ? [batteryUnit(map)] : [])]) await line.ask(unit, [CLEAR_SERVICE]);
  });
}

async function withLine<T>(options: CanOptions, work: (line: CanLine) => Promise<T>): Promise<T> {
  const line = await CanLine.open(options);
  try {
    return await work(line);
  } finally {
    line.close();
  }
}

/** Null where the unit does not know the service: not every unit has all of them. */
async function askIfKnown(line: CanLine, unit: Unit, request: readonly number[]): Promise<readonly number[] | null> {
  try {
    return await line.ask(unit, request);
  } catch (error) {
    if (error instanceof UnitRefused && (error.code === 0x11 || error.code === 0x12)) return null;
    throw error;
  }
}

async function readMapped(line: CanLine, map: ScanMap): Promise<Figures> {
  const data = new Map<number, readonly number[]>();
  for (const { identifier, bytes } of listRequests(map)) {
    const said = await line.ask(batteryUnit(map), bytes);
    // the answer repeats the identifier
    const echo = bytes.length - 1;
    if (said.slice(0, echo).some((byte, i) => byte !== bytes[i + 1]))
      throw new InstrumentSilent('unreadable', 'The battery unit answered for another identifier than was asked.');
    data.set(identifier, said.slice(echo));
  }
  const { blockVolts, packVolt, celsius, ampere, chargePercent } = must(readFigures(map, data));
  return { blockVolts: [...blockVolts], packVolt, celsius: [...celsius], ampere, chargePercent };
}

function must<T>(result: Result<T>): T {
  if (result.kind === 'answer') return result.value;
  throw new InstrumentSilent('unreadable', result.message);
}
