/** Worked by hand from the lever: M x L / (L + E cos a), as printed in leaflets of tool makers (from memory); common practice, no standard. */
import { setForExtension } from './extension.ts';

const wrench = { wantedNewtonMetre: 6, wrenchLengthMillimetre: 200, extensionMillimetre: 50, angleDegree: 0 };

describe('setForExtension', () => {
  it('sets less in line: 6 x 200 / 250', () => {
    expect(setForExtension(wrench)).toEqual({ kind: 'answer', value: 4.8 });
  });
  it('changes nothing square to the wrench', () => {
    const square = setForExtension({ ...wrench, angleDegree: 90 });
    expect(square.kind === 'answer' && square.value).toBeCloseTo(6, 9);
  });
  it('sets more when the extension points back: 6 x 200 / 150', () => {
    const back = setForExtension({ ...wrench, angleDegree: 180 });
    expect(back.kind === 'answer' && back.value).toBeCloseTo(8, 9);
  });
  it('refuses an extension that reaches past the grip', () => {
    expect(setForExtension({ ...wrench, extensionMillimetre: 200, angleDegree: 180 })).toMatchObject({
      kind: 'refused',
      code: 'impossible',
    });
  });
});
