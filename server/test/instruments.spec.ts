import net from 'node:net';
import type { FastifyInstance } from 'fastify';
import { scanAnswerSchema, watchAnswerSchema, type ScanAnswer } from '@estuarine/contract';
import type { ScanMap } from '@estuarine/core';
import { CanLine, readFrames, writeFrame } from '../src/instruments/can-line.ts';
import { watchCar } from '../src/instruments/scan.ts';
import { ScpiLine } from '../src/instruments/scpi.ts';
import { startStandIn, type RunningStandIn } from '../src/practice/stand-ins.ts';
import { createDatabase, Desk, openAct, signIn, startApp, type TestDatabase } from './support.ts';

describe('the driver', () => {
  let standIn: RunningStandIn;
  let asked: (string | null)[] = [];
  beforeAll(async () => {
    standIn = await startStandIn({
      name: 'meter',
      answer: (query, leads) => {
        asked.push(leads);
        return Promise.resolve(query === 'MEAS:VOLT:DC?' ? '12.41' : null);
      },
    });
  });
  afterAll(() => standIn.close());

  it('asks who it is, reads a number, and tells the simulated one where its leads lie', async () => {
    const line = new ScpiLine({ host: '127.0.0.1', port: standIn.port });
    asked = [];
    expect(await line.ask('*IDN?')).toBe('Estuarine,meter (simulated),0,1');
    expect(await line.askNumber('MEAS:VOLT:DC?', ['SIMulate:LEADs "job plusMinus -"'])).toBe(12.41);
    expect(asked).toEqual(['job plusMinus -']);
    line.close();
  });
  it('takes an overload for no reading', async () => {
    const line = new ScpiLine({ host: '127.0.0.1', port: standIn.port });
    await expect(line.askNumber('MEAS:CURR?')).rejects.toMatchObject({ reason: 'unreadable' });
    line.close();
  });
  it('answers questions in the order they were asked', async () => {
    const line = new ScpiLine({ host: '127.0.0.1', port: standIn.port });
    expect(await Promise.all(['*IDN?', 'MEAS:VOLT:DC?', '*IDN?'].map((q) => line.ask(q)))).toEqual([
      ...['Estuarine,meter (simulated),0,1', '12.41', 'Estuarine,meter (simulated),0,1'],
    ]);
    line.close();
  });

  /** A server that does with each connection as told. */
  async function serve(onConnection: (socket: net.Socket, count: number) => void): Promise<{ port: number; close: () => void }> {
    let count = 0;
    const sockets: net.Socket[] = [];
    const server = net.createServer((socket) => {
      sockets.push(socket);
      onConnection(
        socket.on('error', () => undefined),
        ++count,
      );
    });
    await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
    return {
      port: (server.address() as net.AddressInfo).port,
      close: () => {
        for (const s of sockets) s.destroy();
        server.close();
      },
    };
  }

  it('gives up on an instrument that is silent, and does not take its late answer for the next one', async () => {
    const slow = await serve((socket, count) =>
      socket.on('data', () => (count === 1 ? setTimeout(() => socket.write('1\n'), 80) : socket.write('2\n'))),
    );
    const line = new ScpiLine({ host: '127.0.0.1', port: slow.port, timeoutMillisecond: 30 });
    await expect(line.ask('A?')).rejects.toMatchObject({ reason: 'late' });
    expect(await line.ask('B?')).toBe('2');
    line.close();
    slow.close();
  });
  it('connects again when the connection was lost between two questions', async () => {
    const server = await serve((socket, count) =>
      socket.on('data', () => {
        socket.write(`${count}\n`);
        if (count === 1) socket.end();
      }),
    );
    const line = new ScpiLine({ host: '127.0.0.1', port: server.port });
    expect(await line.ask('A?')).toBe('1');
    await new Promise((r) => setTimeout(r, 30));
    expect(await line.ask('B?')).toBe('2');
    line.close();
    server.close();
  });
  it('says that nothing is there', async () => {
    const gone = await serve(() => undefined);
    gone.close();
    await expect(new ScpiLine({ host: '127.0.0.1', port: gone.port }).ask('*IDN?')).rejects.toMatchObject({ reason: 'unreachable' });
  });
  it('refuses an answer without an end', async () => {
    const server = await serve((socket) => socket.on('data', () => socket.write('9'.repeat(10_000))));
    await expect(new ScpiLine({ host: '127.0.0.1', port: server.port }).ask('A?')).rejects.toMatchObject({ reason: 'unreadable' });
    server.close();
  });
});

describe('the bench of the demonstration', () => {
  let db: TestDatabase;
  let app: FastifyInstance;
  let cookie: string;
  let desk: Desk;
  let time = Date.now();
  beforeAll(async () => {
    db = await createDatabase();
    app = await startApp(db, { clock: () => new Date(time) });
    cookie = await signIn(app);
    desk = new Desk(db);
    await desk.keep('meter-job', openAct('meter-job'));
  });
  afterAll(async () => {
    await app.close();
    await db.drop();
  });
  const measure = async (place: string, instrument = 'sim-meter', more: object = {}) =>
    app.inject({
      ...{ method: 'POST', url: `/api/instruments/${instrument}/measure`, headers: { cookie } },
      payload: { jobId: 'meter-job', place, sourceId: null, ...more },
    });

  it('reads the battery, the string while the plug is in, and a capacitor that drains once it is out', async () => {
    expect((await measure('knownBefore')).json()).toMatchObject({
      unit: 'V',
      isSimulated: true,
      identity: expect.stringContaining('(simulated)'),
    });
    const volt = async (place: string, more = {}): Promise<number> =>
      (await measure(place, 'sim-meter', more)).json<{ value: number }>().value;
    expect(await volt('knownBefore')).toBeGreaterThan(12);
    expect(await volt('knownAfter', { sourceId: 'P-1' })).toBe(240);
    const live = await volt('plusMinus');
    expect(live).toBeGreaterThan(200);
    expect(await volt('minusPlus')).toBe(-live);
    const plugOut = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } } as const;
    await new Desk(db).keep('meter-job', plugOut);
    time = Date.now() + 60_000;
    const later = await volt('plusMinus');
    expect(later).toBeLessThan(live * 0.6);
    time += 600_000;
    expect(await volt('plusMinus')).toBeLessThan(1);
    expect((await measure('minusChassis', 'sim-insulation')).json()).toMatchObject({ unit: 'ohm' });
  });

  it('tells the click of a torque tool with its angle, near what it is set to', async () => {
    const torque = (instrument: string, setNewtonMetre: unknown) =>
      app.inject({ method: 'POST', url: `/api/instruments/${instrument}/torque`, headers: { cookie }, payload: { setNewtonMetre } });
    const click = (await torque('sim-torque', 5.4)).json<{ newtonMetre: number; angleDegree: number }>();
    expect(click).toMatchObject({ isSimulated: true, identity: expect.stringContaining('(simulated)') });
    expect(Math.abs(click.newtonMetre - 5.4)).toBeLessThan(0.03 * 5.4 + 0.01);
    expect(click.angleDegree).toBeGreaterThan(0);
    expect((await torque('sim-meter', 5.4)).json()).toMatchObject({ status: 422, detail: 'Bench meter (simulated) is no torque tool.' });
    expect((await torque('none', 5.4)).statusCode).toBe(404);
    for (const wrong of [0, -1, 1e9, '5', null]) expect((await torque('sim-torque', wrong)).statusCode).toBe(422);
  });

  it('refuses what is not there with a reason', async () => {
    expect((await measure('plusMinus', 'none')).json()).toMatchObject({ status: 404 });
    expect((await measure('elsewhere')).json()).toMatchObject({ status: 422, path: ['place'] });
    expect((await measure('plusMinus', 'sim-meter', { jobId: 'nowhere' })).json()).toMatchObject({
      status: 503,
      type: 'urn:estuarine:instrumentSilent',
    });
  });

  it('turns the fan of a job on a simulated supply, as its wheel was last seen, and turns the supply off', async () => {
    const turn = (volt: number, supply = 'sim-supply', meterId = 'sim-airflow') =>
      app.inject({
        ...{ method: 'POST', url: `/api/instruments/${supply}/fan`, headers: { cookie } },
        payload: { meterId, jobId: 'meter-job', part: 2, volt },
      });
    const flow = async (volt: number) => (await turn(volt)).json<{ ampere: number; cubicMetrePerHour: number; isSimulated: boolean }>();
    const open = await flow(12);
    expect(open).toMatchObject({ isSimulated: true });
    expect(open.cubicMetrePerHour).toBeGreaterThan(200);
    expect(await flow(1)).toMatchObject({ cubicMetrePerHour: 0 });
    await desk.keep('meter-job', { type: 'air.found', body: { part: 2, when: 'asFound', blockedShare: 0.8, note: '' } });
    const shut = await flow(12);
    expect(shut.cubicMetrePerHour / open.cubicMetrePerHour).toBeCloseTo(0.2, 1);
    expect(await flow(0)).toEqual({ ampere: 0, cubicMetrePerHour: 0, isSimulated: true });
    expect((await turn(16)).statusCode).toBe(422);
    expect((await turn(12, 'sim-meter')).json()).toMatchObject({ status: 422, detail: expect.stringContaining('is no supply') as unknown });
    expect((await turn(12, 'sim-supply', 'sim-meter')).json()).toMatchObject({
      detail: expect.stringContaining('is no airflow meter') as unknown,
    });
    expect((await turn(12, 'none')).statusCode).toBe(404);
  });

  it('tests the 12 V battery of a job, at rest and under load', async () => {
    const test = (tester: string, jobId = 'meter-job') =>
      app.inject({ method: 'POST', url: `/api/instruments/${tester}/auxiliary`, headers: { cookie }, payload: { jobId } });
    const found = (await test('sim-twelve')).json<{ restVolt: number; loadVolt: number; celsius: number; isSimulated: boolean }>();
    expect(found.isSimulated).toBe(true);
    expect(found.restVolt).toBeGreaterThan(found.loadVolt + 1);
    expect((await test('sim-meter')).json()).toMatchObject({ status: 422, detail: expect.stringContaining('no 12 V tester') as unknown });
    expect((await test('sim-twelve', 'nowhere')).statusCode).toBe(503);
  });

  it('scans the car of a job through frames: it follows what the log says was done to it', async () => {
    await desk.keep('scan-job', openAct('scan-job'));
    const ask = (what: string, payload: object = {}, jobId = 'scan-job') =>
      app.inject({
        method: 'POST',
        url: `/api/jobs/${jobId}/car/${what}`,
        headers: { cookie },
        payload: { readerId: 'sim-scan', ...payload },
      });
    const scan = async (): Promise<ScanAnswer> => scanAnswerSchema.parse((await ask('scan')).json());
    const codes = (of: ScanAnswer): string[] => of.codes.map((c) => `${c.code}/${c.status}`);
    const whole = await scan();
    expect(whole).toMatchObject({
      isSimulated: true,
      reader: 'Scan reader (simulated)',
      readerVersion: 'driver 1',
      chargePercent: 72,
      ampere: 0,
    });
    expect(whole.blockVolts).toHaveLength(14);
    expect(codes(whole)).toEqual([]);
    await desk.keep('scan-job', { type: 'fact.stated', body: { stage: 'refit', fact: { kind: 'plug', isIn: true, isLatched: false } } });
    const open = await scan();
    expect(codes(open)).toEqual(['P0A0D/stored']);
    expect(open.readiness).toMatchObject({ isLampOn: true, codeCount: 1 });
    await desk.keep('scan-job', { type: 'fact.stated', body: { stage: 'refit', fact: { kind: 'plug', isIn: true, isLatched: true } } });
    expect(codes(await scan())).toEqual([]);
    // a drain takes from blocks and charge, and a load shows as what it is
    const watched = watchAnswerSchema.parse((await ask('watch', { load: { ampere: 6.5, second: 868 } })).json());
    expect(watched).toMatchObject({ ampere: 6.5, chargePercent: 48 });
    expect(watched.blockVolts[0]).toBeLessThan(whole.blockVolts[0] ?? 0);
    expect((await ask('clear')).json()).toEqual({ reader: 'Scan reader (simulated)', isSimulated: true });
    expect((await ask('scan', { readerId: 'none' })).statusCode).toBe(404);
    expect((await ask('scan', { readerId: 'sim-meter' })).json()).toMatchObject({ status: 422 });
    expect((await ask('scan', {}, 'nowhere')).statusCode).toBe(404);
    expect((await ask('watch', { load: { ampere: 1e9, second: 0 } })).statusCode).toBe(422);
  });
});

describe('the reader of a car', () => {
  const map: ScanMap = {
    ...{ service: 'identifier', requestId: 0x7e2, answerId: 0x7ea, codes: [] },
    fields: [1, 2, 3, 4].map((number) => ({ what: 'blockVolt' as const, number, identifier: 0x4110, offset: 2 * (number - 1), byte: 2, isSigned: false, scale: 0.01, shift: 0 })), // prettier-ignore
  };
  const unit = { name: 'battery unit', requestId: 0x7e2, answerId: 0x7ea };
  const closing: (() => void)[] = [];
  afterEach(() => closing.splice(0).forEach((close) => close()));

  /** A car that answers each frame with frames. */
  async function car(answer: (data: readonly number[]) => readonly (readonly number[])[]): Promise<number> {
    const server = net.createServer((socket) => {
      let bytes = Buffer.alloc(0);
      socket
        .on('error', () => undefined)
        .on('data', (chunk) => {
          const read = readFrames(Buffer.concat([bytes, chunk]));
          bytes = Buffer.from(read.rest);
          for (const { data } of read.frames) for (const frame of answer(data)) socket.write(writeFrame({ id: 0x7ea, data: frame }));
        });
      closing.push(() => socket.destroy());
    });
    await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
    closing.push(() => server.close());
    return (server.address() as net.AddressInfo).port;
  }
  async function line(port: number): Promise<CanLine> {
    const opened = await CanLine.open({ host: '127.0.0.1', port, timeoutMillisecond: 150, patienceMillisecond: 600 });
    closing.push(() => opened.close());
    return opened;
  }
  const bytesOf = (text: string): number[] => text.split(' ').map((b) => parseInt(b, 16));

  it('lays frames out as the kernel does', () => {
    const frame = writeFrame({ id: 0x7e2, data: bytesOf('03 22 f1 90 cc cc cc cc') });
    expect([...frame]).toEqual(bytesOf('e2 07 00 00 08 00 00 00 03 22 f1 90 cc cc cc cc'));
    const { frames, rest } = readFrames(Buffer.concat([frame, frame.subarray(0, 5)]));
    expect(frames).toEqual([{ id: 0x7e2, data: bytesOf('03 22 f1 90 cc cc cc cc') }]);
    expect(rest).toHaveLength(5);
  });
  it('lets a long answer flow, waits for a unit that asks for time, and passes over what is for another', async () => {
    const port = await car((data) => {
      if (data[0] === 0x30) return [bytesOf('21 40 06 40 06 40 cc cc')];
      return [bytesOf('03 7f 22 78 cc cc cc cc'), bytesOf('03 7f 21 31 cc cc cc cc'), bytesOf('10 0b 62 41 10 06 40 06')];
    });
    const answered = await (await line(port)).ask(unit, [0x22, 0x41, 0x10]);
    expect(answered).toEqual(bytesOf('41 10 06 40 06 40 06 40 06 40'));
    expect(await watchCar({ host: '127.0.0.1', port }, map)).toMatchObject({ blockVolts: [16, 16, 16, 16] });
  });
  it('says why: a refusal with its reason, no answer in time, a lost frame, a reader that went', async () => {
    const refused = await car(() => [bytesOf('03 7f 22 31 cc cc cc cc')]);
    await expect((await line(refused)).ask(unit, [0x22, 0x41, 0x10])).rejects.toThrow(
      'battery unit: The unit refuses: no such identifier.',
    );
    const mute = await car(() => []);
    await expect((await line(mute)).ask(unit, [0x22, 0x41, 0x10])).rejects.toMatchObject({ reason: 'late' });
    const patient = await car(() => [bytesOf('03 7f 22 78 cc cc cc cc')]);
    await expect((await line(patient)).ask(unit, [0x22, 0x41, 0x10])).rejects.toThrow('within 0.6 s');
    const endless = await car(() => new Array<number[]>(9).fill(bytesOf('03 7f 22 78 cc cc cc cc')));
    await expect((await line(endless)).ask(unit, [0x22, 0x41, 0x10])).rejects.toThrow('again and again');
    const lossy = await car((data) => (data[0] === 0x30 ? [bytesOf('22 40 06 40 06 40 cc cc')] : [bytesOf('10 0b 62 41 10 06 40 06')]));
    await expect((await line(lossy)).ask(unit, [0x22, 0x41, 0x10])).rejects.toMatchObject({ reason: 'unreadable' });
    const lost = await line(await car(() => []));
    const asked = lost.ask(unit, [0x22, 0x41, 0x10]);
    lost.close();
    await expect(asked).rejects.toMatchObject({ reason: 'lost' });
    await expect(CanLine.open({ host: '127.0.0.1', port: 1 })).rejects.toMatchObject({ reason: 'unreachable' });
  });
  it('takes an answer for another identifier, and one that is too short, for none', async () => {
    const other = await car(() => [bytesOf('05 62 41 11 06 40 cc cc')]);
    await expect(watchCar({ host: '127.0.0.1', port: other }, map)).rejects.toThrow('another identifier');
    const short = await car(() => [bytesOf('05 62 41 10 06 40 cc cc')]);
    await expect(watchCar({ host: '127.0.0.1', port: short }, map)).rejects.toThrow('too few for blockVolt 2');
  });
});
