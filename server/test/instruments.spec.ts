import net from 'node:net';
import type { FastifyInstance } from 'fastify';
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
});
