/**
 * The simulated car of the demonstration: two units that answer on loopback as a real car's would through a reader. Which job's car it
 * is and how it is used meanwhile is told by a first line, `SIMulate:CAR`, since nobody sits in it.
 */
import type net from 'node:net';
import {
  CLEAR_SERVICE,
  codeBytes,
  CODE_SERVICES,
  CODE_STATUSES,
  codesOf,
  figureOf,
  isFlowOn,
  listRequests,
  MessageJoiner,
  readinessOf,
  SCAN_SERVICES,
  splitMessage,
  writeFigures,
  type CarLoad,
  type CodeStatus,
  type FrameData,
  type HiddenCar,
  type Profile,
  type Readiness,
} from '@estuarine/core';
import { readFrames, writeFrame } from '../instruments/can-line.ts';
import { serveLoopback, type RunningStandIn } from './stand-ins.ts';

export interface PracticeCar {
  readonly profile: Profile;
  readonly car: HiddenCar;
}

const DRIVE_UNIT = { requestId: 0x7e0, answerId: 0x7e8 };
const MOST_PRELUDE = 300;
const [POSITIVE, NEGATIVE] = [0x40, 0x7f];
const [NO_SERVICE, NO_IDENTIFIER, ANSWER_FOLLOWS] = [0x11, 0x31, 0x78];

/** Starts it on a free loopback port. */
export function startCar(findCar: (jobId: string) => Promise<PracticeCar | null>): Promise<RunningStandIn> {
  return serveLoopback((socket) => {
    let bytes = Buffer.alloc(0);
    let told: Promise<Seat | null> | null = null;
    let queue = Promise.resolve();
    socket.on('data', (chunk) => {
      bytes = Buffer.concat([bytes, chunk]);
      if (told === null) {
        const end = bytes.indexOf(0x0a);
        if (end < 0) return bytes.length > MOST_PRELUDE ? socket.destroy() : undefined;
        told = sitIn(bytes.subarray(0, end).toString('latin1'), socket, findCar);
        bytes = bytes.subarray(end + 1);
      }
      const { frames, rest } = readFrames(bytes);
      bytes = Buffer.from(rest);
      const seat = told;
      for (const frame of frames)
        queue = queue
          .then(async () => (await seat)?.take(frame.id, frame.data) ?? socket.destroy())
          .then(
            () => undefined,
            () => void socket.destroy(),
          );
      return undefined;
    });
  });
}

interface Seat {
  take(id: number, data: FrameData): true;
}

async function sitIn(prelude: string, socket: net.Socket, findCar: (jobId: string) => Promise<PracticeCar | null>): Promise<Seat | null> {
  const [, jobId = '', ampere = '0', second = '0'] = /^SIMulate:CAR "(\S+) (-?[\d.]+) ([\d.]+)"$/.exec(prelude) ?? [];
  const found = await findCar(jobId).catch(() => null);
  if (!found) return null;
  const load: CarLoad = { ampere: Number(ampere), second: Number(second) };
  const battery = found.profile.scan;
  const units = [
    { ...DRIVE_UNIT, isBattery: false, joiner: new MessageJoiner(), waiting: [] as FrameData[] },
    ...(battery ? [{ ...battery, isBattery: true, joiner: new MessageJoiner(), waiting: [] as FrameData[] }] : []),
  ];
  return {
    take(id, data) {
      const unit = units.find((u) => u.requestId === id);
      if (!unit) return true;
      const send = (frames: readonly FrameData[]): void => {
        for (const frame of frames) socket.write(writeFrame({ id: unit.answerId, data: frame }));
      };
      if (isFlowOn(data)) {
        send(unit.waiting.splice(0));
        return true;
      }
      const joined = unit.joiner.take(data);
      if (joined.kind !== 'whole') return true;
      for (const message of answerTo(joined.bytes, found, load, unit.isBattery)) {
        const split = splitMessage(message);
        if (split.kind === 'refused') continue;
        const [first, ...rest] = split.value;
        // a long answer waits until its reader lets it flow
        if (first) send([first]);
        unit.waiting = [...rest];
      }
      return true;
    },
  };
}

/** Messages of a unit, in order. */
function answerTo(request: readonly number[], { car, profile }: PracticeCar, load: CarLoad, isBattery: boolean): number[][] {
  const [service = 0] = request;
  const status = CODE_STATUSES.find((s) => CODE_SERVICES[s] === service);
  if (status) return [[service + POSITIVE, ...writeCodes(codesOfUnit(car, profile, status, isBattery))]];
  if (service === CLEAR_SERVICE) return [[service + POSITIVE]];
  if (service === 0x01 && request[1] === 0x01 && !isBattery)
    return [[service + POSITIVE, 0x01, ...writeReadiness(readinessOf(car, profile))]];
  const map = profile.scan;
  if (!isBattery || !map || service !== SCAN_SERVICES[map.service]) return [[NEGATIVE, service, NO_SERVICE]];
  const asked = listRequests(map).find((r) => r.bytes.length === request.length && r.bytes.every((b, i) => b === request[i]));
  if (!asked) return [[NEGATIVE, service, NO_IDENTIFIER]];
  const data = writeFigures(map, asked.identifier, (what, number) => figureOf(car, profile, load, what, number));
  // it gathers the cells first, and says so
  return [
    [NEGATIVE, service, ANSWER_FOLLOWS],
    [service + POSITIVE, ...request.slice(1), ...data],
  ];
}

/** The battery unit keeps its own codes, the drive unit the general ones. */
function codesOfUnit(car: HiddenCar, profile: Profile, status: CodeStatus, isBattery: boolean): string[] {
  const own = new Set(profile.scan?.codes.filter((c) => c.block !== null).map((c) => c.code));
  return codesOf(car, profile, status).filter((code) => own.has(code) === isBattery);
}

function writeCodes(codes: readonly string[]): number[] {
  const known = codes.flatMap((code) => {
    const bytes = codeBytes(code);
    return bytes.kind === 'answer' ? [bytes.value] : [];
  });
  return [known.length, ...known.flat()];
}

function writeReadiness({ isLampOn, codeCount, incomplete }: Readiness): number[] {
  const open = (incomplete.includes('catalyst') ? 0x01 : 0) | (incomplete.includes('oxygen sensor') ? 0x20 : 0);
  return [(isLampOn ? 0x80 : 0) | codeCount, 0x07, 0xe1, open];
}
