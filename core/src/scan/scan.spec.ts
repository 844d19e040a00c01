import fc from 'fast-check';
import { shippedProfile, SHIPPED } from '../../test/job-fixture.ts';
import { findBarRests } from './bar-rest.ts';
import { followCodes, type CodesAt, type ScannedCode } from './codes.ts';
import { findDrain, findUnlike, type DrainConditions } from './drain.ts';
import { codeBytes, readAnswer, readCodes, readReadiness, writeCode } from './general.ts';
import { readScan } from './read-scan.ts';
import { checkScanMap, listRequests, readFigures, writeFigures, type ScanMap } from './scan-map.ts';
import { FLOW_ON, isFlowOn, MessageJoiner, splitMessage } from './transport.ts';
import { explainWiring } from './wiring.ts';

const bytes = (text: string): number[] => text.split(' ').map((b) => parseInt(b, 16));

describe('messages over frames', () => {
  // ISO 15765-2: one byte of length for up to seven bytes, twelve bits above, consecutive frames counted from 1 (from memory)
  it.each([
    ['01 00', '02 01 00 cc cc cc cc cc'],
    ['22 f1 90', '03 22 f1 90 cc cc cc cc'],
    ['01 02 03 04 05 06 07', '07 01 02 03 04 05 06 07'],
  ])('%s goes in a single frame', (message, frame) => {
    expect(splitMessage(bytes(message))).toEqual({ kind: 'answer', value: [bytes(frame)] });
  });
  it('twenty bytes go as a first frame and two that follow, once the other side lets them flow', () => {
    const message = Array.from({ length: 20 }, (_, i) => i);
    const split = splitMessage(message);
    if (split.kind === 'refused') throw new Error(split.message);
    expect(split.value).toEqual([bytes('10 14 00 01 02 03 04 05'), bytes('21 06 07 08 09 0a 0b 0c'), bytes('22 0d 0e 0f 10 11 12 13')]);
    const joiner = new MessageJoiner();
    expect(split.value.map((f) => joiner.take(f).kind)).toEqual(['letOn', 'more', 'whole']);
    expect(isFlowOn(FLOW_ON)).toBe(true);
    expect(isFlowOn(bytes('31 00 00'))).toBe(false);
  });
  it('come out as they went in, whatever their length', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 1, maxLength: 300, size: 'max' }), (message) => {
        const split = splitMessage(message);
        if (split.kind === 'refused') throw new Error(split.message);
        const joiner = new MessageJoiner();
        expect(split.value.map((f) => joiner.take(f)).at(-1)).toEqual({ kind: 'whole', bytes: message });
      }),
    );
  });
  it('are broken by a frame that was lost, by one that follows none, and by a length without its bytes', () => {
    const joiner = new MessageJoiner();
    joiner.take(bytes('10 14 00 01 02 03 04 05'));
    expect(joiner.take(bytes('22 0d 0e 0f 10 11 12 13'))).toMatchObject({ kind: 'broken' });
    expect(joiner.take(bytes('21 06 07 08 09 0a 0b 0c'))).toMatchObject({ kind: 'broken' });
    expect(joiner.take(bytes('05 01 02'))).toMatchObject({ kind: 'broken' });
    expect(joiner.take(bytes('00 01 02'))).toMatchObject({ kind: 'broken' });
    expect(splitMessage([])).toMatchObject({ kind: 'refused', code: 'empty' });
    expect(splitMessage(new Array<number>(4096).fill(0))).toMatchObject({ kind: 'refused', code: 'tooLarge' });
  });
});

describe('the general services', () => {
  // SAE J2012: two bits of letter, two of digit, three hexadecimal digits; P0143 is the example of SAE J1979 (from memory)
  it.each([
    ['P0143', '01 43'],
    ['P0A80', '0a 80'],
    ['C1234', '52 34'],
    ['B3FFF', 'bf ff'],
    ['U0100', 'c1 00'],
  ])('%s is %s', (code, text) => {
    const [high = 0, low = 0] = bytes(text);
    expect(writeCode(high, low)).toBe(code);
    expect(codeBytes(code)).toEqual({ kind: 'answer', value: [high, low] });
  });
  it('count their codes, and refuse an answer that is shorter than its count', () => {
    expect(readCodes(bytes('02 01 43 0a 80'))).toEqual({ kind: 'answer', value: ['P0143', 'P0A80'] });
    expect(readCodes(bytes('00'))).toEqual({ kind: 'answer', value: [] });
    expect(readCodes(bytes('02 01 43'))).toMatchObject({ kind: 'refused', code: 'unreadable' });
    expect(readCodes([])).toMatchObject({ kind: 'refused' });
    expect(codeBytes('P0A8')).toMatchObject({ kind: 'refused' });
  });
  it('tell an answer from a refusal, from a request for time, and from an answer to something else', () => {
    expect(readAnswer(0x22, bytes('62 f1 90 41'))).toEqual({ kind: 'data', bytes: bytes('f1 90 41') });
    expect(readAnswer(0x22, bytes('7f 22 31'))).toMatchObject({
      kind: 'negative',
      code: 0x31,
      message: expect.stringContaining('no such identifier'),
    });
    expect(readAnswer(0x22, bytes('7f 22 f0'))).toMatchObject({ kind: 'negative', message: expect.stringContaining('0xF0') });
    expect(readAnswer(0x22, bytes('7f 22 78'))).toEqual({ kind: 'pending' });
    expect(readAnswer(0x22, bytes('7f 21 31'))).toEqual({ kind: 'other' });
    expect(readAnswer(0x22, bytes('61 01'))).toEqual({ kind: 'other' });
  });
  it('read the lamp, the number of codes, and the tests that are not finished', () => {
    expect(readReadiness(bytes('01 82 07 e1 21'))).toEqual({
      kind: 'answer',
      value: { isLampOn: true, codeCount: 2, incomplete: ['catalyst', 'oxygen sensor'] },
    });
    expect(readReadiness(bytes('01 00 77 00 00'))).toMatchObject({
      value: { isLampOn: false, incomplete: ['misfire', 'fuel system', 'components'] },
    });
    // not supported: not incomplete
    expect(readReadiness(bytes('01 00 00 00 ff'))).toMatchObject({ value: { incomplete: [] } });
    expect(readReadiness(bytes('01 00 07'))).toMatchObject({ kind: 'refused' });
  });
});

describe.each(SHIPPED)('the scan of %s', (id) => {
  const profile = shippedProfile(id);
  const map = profile.scan;
  if (!map) throw new Error('no map');

  it('asks each identifier once, and reads back what a unit keeps', () => {
    const requests = listRequests(map);
    expect(new Set(requests.map((r) => r.identifier)).size).toBe(requests.length);
    const figure = (what: string, number: number): number => ({ blockVolt: 14 + number / 10, packVolt: 224.5, celsius: 20 + number, ampere: -12.5, chargePercent: 61.5 })[what] ?? 0; // prettier-ignore
    const data = new Map(requests.map((r) => [r.identifier, writeFigures(map, r.identifier, figure)]));
    const read = readFigures(map, data);
    if (read.kind === 'refused') throw new Error(read.message);
    expect(read.value.blockVolts).toHaveLength(profile.blocks.length);
    expect(read.value.blockVolts[0]).toBeCloseTo(14.1, 1);
    expect(read.value).toMatchObject({ packVolt: 224.5, ampere: -12.5, chargePercent: 61.5 });
    expect(read.value.celsius.at(-1)).toBe(20 + profile.sensors.length);
  });
  it('says which identifier was answered too short, and leaves empty what was not answered', () => {
    const [first] = listRequests(map);
    const short = readFigures(map, new Map([[first?.identifier ?? 0, [1]]]));
    expect(short).toMatchObject({ kind: 'refused', code: 'unreadable' });
    expect(readFigures(map, new Map())).toMatchObject({ value: { ampere: null, chargePercent: null } });
  });
  it('has a code for every block, each with the code that comes with it', () => {
    expect(map.codes.filter((c) => c.block !== null).map((c) => c.block)).toEqual(profile.blocks.map((_, i) => i + 1));
    for (const code of map.codes) if (code.comesWith !== null) expect(map.codes.map((c) => c.code)).toContain(code.comesWith);
    expect(checkScanMap({ ...map, codes: [...map.codes, ...map.codes.slice(0, 1)] }, profile.blocks.length)).toMatchObject({
      kind: 'refused',
    });
    expect(checkScanMap(map, profile.blocks.length - 1)).toMatchObject({ kind: 'refused' });
  });
});

describe('codes of one scan beside another', () => {
  const at = (number: number, ...codes: string[]): CodesAt => ({
    ...{ number, moment: number === 1 ? 'asFound' : 'afterRepair' },
    codes: codes.map((text): ScannedCode => {
      const [code = '', status = 'stored'] = text.split('/');
      return { code, status: status as ScannedCode['status'] };
    }),
  });
  it.each<[string, CodesAt[], number[], string]>([
    ['found once', [at(1, 'P1')], [], 'there'],
    ['found and not any more', [at(1, 'P1'), at(3)], [2], 'gone'],
    ['found again, never cleared', [at(1, 'P1'), at(3, 'P1')], [], 'stays'],
    ['cleared and there again', [at(1, 'P1'), at(3, 'P1')], [2], 'returned'],
    ['cleared, and gone for a scan', [at(1, 'P1'), at(3), at(5, 'P1/pending')], [2], 'returned'],
    ['new since', [at(1), at(3, 'P1')], [2], 'came'],
    ['cleared, there again beside its permanent one', [at(1, 'P1', 'P1/permanent'), at(3, 'P1', 'P1/permanent')], [2], 'returned'],
    ['cleared, left by the car itself', [at(1, 'P1', 'P1/permanent'), at(3, 'P1/permanent')], [2], 'permanent'],
    ['cleared before it was ever seen', [at(3, 'P1'), at(5, 'P1')], [2], 'stays'],
  ])('%s', (_what, scans, cleared, fate) => {
    expect(followCodes(scans, cleared)).toMatchObject([{ code: 'P1', fate }]);
  });
  it('without a scan there are none', () => expect(followCodes([], [1])).toEqual([]));
});

describe('a bad bar without opening', () => {
  const modules = [46, 46, 46, 46, 46];
  const sizes = [2, 2, 2, 2, 2];
  const at = (ampere: number, bars: readonly number[]) => ({
    ampere,
    volts: modules.map((m, i) => 16 - (ampere * (m + (bars[i] ?? 0))) / 1000),
  });
  const bars = [0.8, 0.8, 4.1, 0.8, 0.9];
  it('is what a block has beyond its modules (Ohm)', () => {
    const found = findBarRests(at(5, bars), at(65, bars), modules, sizes, 0.01);
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.map((b) => Number(b.restMilliohm.toFixed(3)))).toEqual(bars);
    expect(found.value.filter((b) => b.standsApart).map((b) => b.block)).toEqual([3]);
    expect(found.value[2]?.wattAt100).toBeCloseTo(41, 6);
  });
  it('is seen in a block of two beside blocks of four, which have twice the bars', () => {
    const unequal = [2, 2, 4, 4, 4, 2];
    const own = unequal.map((n) => 23 * n);
    const rest = [0.8, 2.4, 1.6, 1.6, 1.7, 0.8];
    const under = (ampere: number) => ({ ampere, volts: own.map((m, i) => 16 - (ampere * (m + (rest[i] ?? 0))) / 1000) });
    const found = findBarRests(under(0), under(60), own, unequal, 0.01);
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.filter((b) => b.standsApart).map((b) => b.block)).toEqual([2]);
    expect(Math.abs(found.value[2]?.modifiedZ ?? 9)).toBeLessThan(1);
  });
  it('is not told from the last digit of a coarse display', () => {
    const found = findBarRests(at(5, bars), at(65, bars), modules, sizes, 0.5);
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.every((b) => !b.standsApart)).toBe(true);
  });
  it('needs two currents and every block', () => {
    expect(findBarRests(at(5, bars), at(5.4, bars), modules, sizes, 0.01)).toMatchObject({ kind: 'refused', code: 'impossible' });
    expect(findBarRests(at(5, bars), { ampere: 9, volts: [1] }, modules, sizes, 0.01)).toMatchObject({ kind: 'refused', code: 'mismatch' });
    expect(findBarRests({ ampere: 0, volts: [] }, { ampere: 9, volts: [] }, [], [], 0.01)).toMatchObject({
      kind: 'refused',
      code: 'empty',
    });
  });
});

describe('the wiring', () => {
  const blocks = [2, 2, 4, 4, 4, 2, 2];
  const moduleVolts = Array.from({ length: 20 }, (_, i) => 8 + 0.01 * ((i * 7) % 5));
  const known = { moduleVolts, blocks, toleranceVolt: 0.1 };
  /** Potentials of the sense leads from the most negative, with a charge taken since the bench. */
  const potentials = (shift = 0.15, turned: number | null = null): number[] => {
    const leads = [0];
    let place = 0;
    for (const size of blocks) {
      let volt = leads.at(-1) ?? 0;
      for (let k = 0; k < size; k++, place++) volt += (place + 1 === turned ? -1 : 1) * ((moduleVolts[place] ?? 0) + shift);
      leads.push(volt);
    }
    return leads;
  };
  const read = (leads: readonly number[]): number[] => leads.slice(1).map((v, i) => v - (leads[i] ?? 0));
  const best = (scannedVolts: readonly number[]) => {
    const found = explainWiring({ ...known, scannedVolts });
    if (found.kind === 'refused') throw new Error(found.message);
    return found.value;
  };
  it('is right where it is right, also after a charge', () => expect(best(read(potentials()))[0]?.fault).toEqual({ kind: 'none' }));
  it.each([2, 3, 4, 5, 6])('names the swapped leads around block %i', (block) => {
    const leads = potentials();
    [leads[block - 1], leads[block]] = [leads[block] ?? 0, leads[block - 1] ?? 0];
    const [first] = best(read(leads));
    expect(first?.fault).toEqual({ kind: 'leadsSwapped', block });
    expect(first?.residualVolt).toBeLessThan(0.05);
  });
  it('names a lead that hangs in the air between unequal blocks', () => {
    const volts = read(potentials());
    const half = ((volts[1] ?? 0) + (volts[2] ?? 0)) / 2;
    [volts[1], volts[2]] = [half, half];
    const [first, second] = best(volts);
    expect(first?.fault).toEqual({ kind: 'leadOpen', block: 2 });
    expect(second?.score).toBeGreaterThan((first?.score ?? 0) + 10);
  });
  it('names the turned module by what its block lacks', () => {
    const found = best(read(potentials(0, 9)))[0];
    expect(found?.fault.kind).toBe('moduleTurned');
    expect(found?.sentence).toContain('block 4');
  });
  it('names a weak block, and no fault of leads, where volts are missing', () => {
    const volts = read(potentials());
    volts[4] = (volts[4] ?? 0) - 1.3;
    expect(best(volts)[0]?.fault).toMatchObject({ kind: 'badBar', block: 5 });
  });
  it('refuses what does not fit together', () => {
    expect(explainWiring({ ...known, scannedVolts: [1] })).toMatchObject({ kind: 'refused', path: ['scannedVolts'] });
    expect(explainWiring({ ...known, scannedVolts: blocks, moduleVolts: [1] })).toMatchObject({ kind: 'refused', path: ['moduleVolts'] });
    expect(explainWiring({ ...known, scannedVolts: blocks, toleranceVolt: 0 })).toMatchObject({ kind: 'refused', path: ['toleranceVolt'] });
  });
});

describe('a drain in the car', () => {
  const samples = [0, 434, 868].map((second) => ({ second, ampere: 6.5, blockVolts: [15.9 - second / 2000, 15.8, 15.9] }));
  const asked = { samples, startPercent: 70, endPercent: 46, newCapacityAh: 6.5, stepPercent: 0.5, ampereShare: 0.02, blocks: [2, 2, 2] };
  it('of 868 s at 6.5 A is 1.57 Ah: a window of a quarter, whose share of new capacity says how far it can be off', () => {
    const found = findDrain(asked);
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.ampereHour).toBeCloseTo(1.567, 3);
    expect(found.value.windowShare).toBeCloseTo(0.24, 9);
    expect(found.value.share).toBeCloseTo(1.567 / (0.24 * 6.5), 3);
    // half a percent of the display and two hundredths of the current, both ways
    expect(found.value.leastShare).toBeCloseTo((1.567 * 0.98) / (0.245 * 6.5), 3);
    expect(found.value.mostShare).toBeCloseTo((1.567 * 1.02) / (0.235 * 6.5), 3);
    expect(found.value).toMatchObject({ endsAtBlock: 1, seconds: 868 });
    expect(found.value.spreadVolt).toBeCloseTo((15.9 - 15.466) / 2, 6);
  });
  it('integrates what was measured, not what was set', () => {
    const sagging = findDrain({ ...asked, samples: samples.map((s, i) => ({ ...s, ampere: [6.5, 5.5, 4.5][i] ?? 0 })) });
    expect(sagging).toMatchObject({ value: { meanAmpere: expect.closeTo(5.5, 9) as number } });
  });
  it('allows any share where the window is no wider than a step of the display', () => {
    expect(findDrain({ ...asked, endPercent: 69.5 })).toMatchObject({ value: { mostShare: null } });
  });
  it.each([
    ['one sample', { samples: samples.slice(0, 1) }],
    ['no window', { endPercent: 70 }],
    ['a charge', { samples: samples.map((s) => ({ ...s, ampere: -6.5 })) }],
    ['times that fall', { samples: [...samples].reverse() }],
    ['a block less', { blocks: [2, 2] }],
    ['days', { samples: samples.map((s) => ({ ...s, second: s.second * 200 })) }],
  ])('refuses %s', (_what, change) => expect(findDrain({ ...asked, ...change })).toMatchObject({ kind: 'refused' }));

  const alike: DrainConditions = {
    ...{ startPercent: 70, meanAmpere: 6.5, celsius: 24, isCabinCooled: true, isTwelveVoltSupported: true },
    ...{ reader: 'reader', readerVersion: '1' },
  };
  it.each<[Partial<DrainConditions>, RegExp | null]>([
    [{}, null],
    [{ startPercent: 66, meanAmpere: 6.1, celsius: 28 }, null],
    [{ startPercent: 64 }, /charge at the start/],
    [{ meanAmpere: 5.8 }, /current/],
    [{ celsius: 30 }, /temperature/],
    [{ isCabinCooled: false }, /cabin cooling, on and off/],
    [{ isTwelveVoltSupported: false }, /12 V support/],
    [{ reader: 'another' }, /^reader/],
    [{ readerVersion: '2' }, /version of the reader/],
  ])('is held against another only where they are alike: %j', (change, words) => {
    const found = findUnlike(alike, { ...alike, ...change });
    if (words === null) expect(found).toEqual([]);
    else expect(found).toEqual([expect.stringMatching(words)]);
  });
});

describe('a scan that was typed or comes as a file', () => {
  it.each([
    ['by commas, with one at the end', 'P0A80, stored,\nblock, 2, 16.02,\nsensor,1,24\nampere, -6.5\ncharge, 61'],
    ['by commas', 'P0A80, stored\nblock, 2, 16.02\nsensor,1,24\nampere, -6.5\ncharge, 61'],
    ['by semicolons, commas for decimals', 'p0a80;Stored\r\nblock;2;16,02\r\nsensor;1;24\r\nampere;-6,5\r\ncharge;61\r\n'],
    ['by spaces', 'P0A80\nblock 2 16,02\nsensor 1 24\nampere -6.5\ncharge 61'],
    ['by tabs', 'P0A80\tstored\nblock\t2\t16.02\nsensor\t1\t24\nampere\t-6.5\ncharge\t61\n\n'],
  ])('%s', (_what, text) => {
    expect(readScan(text, 3)).toEqual({
      kind: 'answer',
      value: {
        ...{ codes: [{ code: 'P0A80', status: 'stored' }], blockVolts: [null, 16.02, null], celsius: [24] },
        ...{ packVolt: null, ampere: -6.5, chargePercent: 61 },
      },
    });
  });
  it('takes a decimal comma below zero by spaces', () => expect(readScan('ampere -6,5', 3)).toMatchObject({ value: { ampere: -6.5 } }));
  it('may be the pack alone', () => expect(readScan('pack 224,5', 3)).toMatchObject({ value: { packVolt: 224.5, blockVolts: [] } }));
  it.each([
    ['', 'empty', 'Nothing was read'],
    ['P0A80 sometimes', 'unreadable', 'Line 1: "sometimes" is none of'],
    ['P0A80\nfuel 3', 'unreadable', 'Line 2: "fuel" is no code'],
    ['block 4 16', 'unknownName', 'the pack has 3 blocks'],
    ['block x 16', 'unreadable', 'which one'],
    ['block 1 16000', 'impossible', 'outside -1000 to 1000'],
    ['charge 101', 'impossible', 'outside 0 to 100'],
    ['block 1', 'unreadable', 'Line 1'],
    ['block,3,16,02', 'unreadable', '"02" is cell 4 of 3: a decimal comma wants semicolons'],
    ['pack,224,5', 'unreadable', '"5" is cell 3 of 2'],
    ['P0A80, stored, 3', 'unreadable', '"3" is cell 3 of 2'],
    ['sensor 1 24 25', 'unreadable', 'Line 1: "25" is cell 4 of 3'],
    ['constructor 1 2', 'unreadable', 'no code'],
    ['\n'.repeat(3000), 'tooLarge', 'lines'],
  ])('%j is refused with its line', (text, code, words) => {
    expect(readScan(text, 3)).toMatchObject({ kind: 'refused', code, message: expect.stringContaining(words) as unknown });
  });
});

describe('a code that is there again', () => {
  const at = (number: number, ...statuses: ScannedCode['status'][]): CodesAt => ({
    number,
    moment: 'afterRepair',
    codes: statuses.map((status) => ({ code: 'P1', status })),
  });
  const fate = (scans: readonly CodesAt[], ...cleared: number[]) => followCodes(scans, cleared)[0]?.fate;
  it('came back only where it was cleared after it was seen and before the last scan', () => {
    expect(fate([at(5, 'stored'), at(9, 'stored')], 7)).toBe('returned');
    expect(fate([at(5, 'stored'), at(9, 'stored')], 4)).toBe('stays');
    expect(fate([at(5, 'stored'), at(9, 'stored')], 10)).toBe('stays');
    expect(fate([at(2), at(5, 'stored'), at(9, 'stored')], 3)).toBe('came');
  });
  it('is left by the car only where nothing of it is stored', () => {
    expect(fate([at(5, 'stored'), at(9, 'permanent')], 7)).toBe('permanent');
    expect(fate([at(5, 'stored'), at(9, 'permanent', 'stored')], 7)).toBe('returned');
  });
});

it('reads the last block of the pack, and no block beyond it', () => {
  expect(readScan('block 3 16', 3)).toMatchObject({ value: { blockVolts: [null, null, 16] } });
  expect(readScan('sensor 4 16', 3)).toMatchObject({ value: { celsius: [null, null, null, 16] } });
});

it('reads a signed field from its lowest to its highest, in one byte and in two', () => {
  const shipped = shippedProfile('dunlin-28').scan;
  if (!shipped) throw new Error('no scan map');
  const map = (byte: 1 | 2, isSigned: boolean): ScanMap => ({
    ...shipped,
    fields: [{ what: 'ampere', number: 1, identifier: 1, offset: 0, byte, isSigned, scale: 1, shift: 0 }],
  });
  const read = (byte: 1 | 2, isSigned: boolean, ...bytes: number[]): unknown => {
    const found = readFigures(map(byte, isSigned), new Map([[1, bytes]]));
    return found.kind === 'answer' ? found.value.ampere : found.message;
  };
  expect([0x7f, 0x80, 0xff].map((raw) => read(1, true, raw))).toEqual([127, -128, -1]);
  expect([0x7f, 0x80, 0xff].map((raw) => read(1, false, raw))).toEqual([127, 128, 255]);
  expect([[0x7f, 0xff], [0x80, 0], [0xff, 0xff]].map((raw) => read(2, true, ...raw))).toEqual([32_767, -32_768, -1]); // prettier-ignore
});
