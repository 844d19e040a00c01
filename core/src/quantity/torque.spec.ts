import { convertTorque, TORQUE_UNITS } from './torque.ts';
import fc from 'fast-check';

describe('convertTorque', () => {
  // NIST SP 811 (2008), appendix B.8: pound-force inch 1.129 848 E-01 N·m, pound-force foot 1.355 818 E+00 N·m
  it.each([
    ['lbfin', 0.1129848],
    ['lbfft', 1.355818],
  ] as const)('gives the printed factor of %s', (unit, factor) => {
    expect(convertTorque(1, unit).newtonMetre).toBeCloseTo(factor, 6);
  });

  it('holds twelve inches to the foot exactly', () => {
    expect(convertTorque(10, 'lbfft').poundForceInch).toBeCloseTo(120, 12);
  });

  it('comes back from every unit to itself', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-3, max: 1e4, noNaN: true }), fc.constantFrom(...TORQUE_UNITS), (value, unit) => {
        const all = convertTorque(value, unit);
        const back = convertTorque(all.newtonMetre, 'Nm');
        expect(back.poundForceInch / all.poundForceInch).toBeCloseTo(1, 12);
        expect(back.poundForceFoot / all.poundForceFoot).toBeCloseTo(1, 12);
      }),
    );
  });
});
