/** What was found and how it was made safe to touch: findings, proof of dead, insulation, cooling, scans. */
import { CLEANING_SCHOOLS } from '../job/chapters/cool/acts.ts';
import { findCooling } from '../job/chapters/cool/view.ts';
import { CAUSE_NAMES } from '../job/chapters/hand-over/acts.ts';
import { findCauses } from '../job/chapters/hand-over/view.ts';
import { FINDING_WORDS, FOLLOW_WORDS, sayPin, SEVERITY_WORDS } from '../job/chapters/finding/finding-words.ts';
import { findInsulation } from '../isolate/insulation.ts';
import { PROOF_ENTRIES, proofEntryName } from '../isolate/proof.ts';
import { CODE_FATE_NAMES, followCodes, SCAN_MOMENT_NAMES } from '../scan/codes.ts';
import { figure, initials, type Words, type ReportBlock, type ReportInput } from './blocks.ts';

export function writeFindings({ state, profile }: ReportInput, { when }: Words): ReportBlock[] {
  const { findings } = state.finding;
  const causes = findCauses(state.handOver);
  return [
    { kind: 'heading', level: 2, text: 'Found' },
    ...(findings.length === 0
      ? ([{ kind: 'text', text: 'No finding was noted.' }] as const)
      : ([
          {
            kind: 'table',
            columns: [
              { name: 'When', share: 2.2 },
              { name: 'What', share: 2.4 },
              { name: 'Where', share: 2.4 },
              { name: 'Words', share: 4 },
              { name: 'What follows', share: 2.4 },
            ],
            rows: findings.map((f) => [
              when(f.at),
              `${SEVERITY_WORDS[f.severity]} ${FINDING_WORDS[f.kind]}${f.isOnArrival ? ', on arrival' : ''}`,
              sayPin(f.pin, profile),
              f.note,
              f.settled ? `settled: ${f.settled.note}` : FOLLOW_WORDS[f.follow],
            ]),
          },
        ] as const)),
    { kind: 'heading', level: 2, text: 'Causes' },
    ...(causes.length === 0
      ? ([{ kind: 'text', text: 'No cause is named.' }] as const)
      : causes.map((c): ReportBlock => ({ kind: 'text', text: `${CAUSE_NAMES[c.cause]}: ${c.isAnswered ? 'answered' : 'not answered'} (${initials(c.by)}). ${c.how}`.trim() }))), // prettier-ignore
  ];
}

export function writeDead({ state, profile }: ReportInput, { when }: Words): ReportBlock[] {
  const { proofs, overrides, insulation } = state.isolate;
  const signed = proofs.filter((p) => p.signed !== null);
  if (signed.length + overrides.length + insulation.length === 0) return [];
  return [
    { kind: 'heading', level: 2, text: 'Proof of dead and insulation' },
    ...signed.flatMap((proof): ReportBlock[] => [
      {
        kind: 'text',
        text: `Signed by ${initials(proof.signed?.by ?? '')}, ${when(proof.signed?.at ?? '')}, meter ${proof.meterId}, known source ${proof.source === 'battery' ? 'the 12 V battery' : 'a proving unit'}, limit ${proof.limitVolt} V.${proof.lapsed ? ` Lapsed ${when(proof.lapsed.at)}: ${proof.lapsed.reason}` : ''}`, // prettier-ignore
      },
      {
        kind: 'table',
        columns: [
          { name: 'Reading', share: 4 },
          { name: 'V', isFigure: true, share: 1.5 },
          { name: 'By', share: 1 },
          { name: 'From', share: 2 },
        ],
        rows: PROOF_ENTRIES.flatMap((entry) => {
          const last = proof.readings.findLast((r) => r.entry === entry);
          return last ? [[proofEntryName(entry), figure(last.volt, 2), initials(last.by), last.isFromMeter ? 'the meter' : 'typed']] : [];
        }),
      },
    ]),
    ...overrides.map((o): ReportBlock => ({ kind: 'text', tone: 'caution', text: `Overridden by ${initials(o.by)}, ${when(o.at)}: ${o.stepId}. ${o.reason}` })), // prettier-ignore
    ...insulation.map((taken): ReportBlock => {
      if ('tested' in taken) {
        const { minusOhm, plusOhm } = taken.tested;
        return { kind: 'text', text: `Insulation by tester, ${when(taken.at)}: minus to chassis ${sayOhm(minusOhm)}, plus to chassis ${sayOhm(plusOhm)}.` }; // prettier-ignore
      }
      const { packVolt, minusChassisVolt, plusChassisVolt, withResistorVolt, resistorOhm } = taken.read;
      const higherVolt = Math.max(minusChassisVolt, plusChassisVolt);
      const found = findInsulation({ packVolt, higherVolt, withResistorVolt, resistorOhm, workingVolt: profile.moduleType.maximumModuleVolt * profile.moduleCount }); // prettier-ignore
      const said = found.kind === 'answer' ? `${sayOhm(found.value.ohm)}, ${found.value.ohmPerVolt.toFixed(0)} Ω/V` : found.message;
      return { kind: 'text', text: `Insulation by the pack’s own voltage, ${when(taken.at)}: ${said}` };
    }),
  ];
}

function sayOhm(ohm: number): string {
  if (ohm >= 1e6) return `${(ohm / 1e6).toFixed(ohm >= 1e8 ? 0 : 2)} MΩ`;
  return ohm >= 1000 ? `${(ohm / 1000).toFixed(1)} kΩ` : `${ohm.toFixed(0)} Ω`;
}

const SCHOOL_WORDS: Record<(typeof CLEANING_SCHOOLS)[number], string> = {
  dry: 'brushed and wiped',
  air: 'blown out',
  washed: 'washed',
  renewed: 'renewed',
};

export function writeCooling({ state, profile }: ReportInput): ReportBlock[] {
  const { parts, judged, look } = findCooling(state, profile);
  if (state.cool.found.length === 0) return [];
  const shut = (share: number | null): string => (share === null ? '–' : `${Math.round(100 * share)} %`);
  return [
    { kind: 'heading', level: 2, text: 'Cooling' },
    {
      kind: 'table',
      columns: [
        { name: 'Part', share: 3 },
        { name: 'shut as found', isFigure: true, share: 2 },
        { name: 'shut after', isFigure: true, share: 2 },
        { name: 'What was done', share: 3 },
      ],
      rows: parts.map((p) => [
        p.name,
        shut(p.asFound),
        shut(p.after),
        [p.cleaned ? SCHOOL_WORDS[p.cleaned.school] : '', p.fan ? p.fan.sentence : ''].filter((t) => t !== '').join('; '),
      ]),
    },
    ...(judged ? [{ kind: 'text', text: `The cooling ${judged.isAnswered ? 'answers' : 'does not answer'} the damage. ${judged.note}`.trim() } as const] : []), // prettier-ignore
    ...(look ? [{ kind: 'text', text: `Look again after ${look.months} months${look.stripMonths === null ? '' : `; open the pack and clean its cells after ${look.stripMonths}`}.` } as const] : []), // prettier-ignore
  ];
}

export function writeScans({ state }: ReportInput, { when }: Words): ReportBlock[] {
  const { scanned, cleared, driven, drained } = state.refit;
  if (scanned.length + driven.length + drained.length === 0) return [];
  const codes = followCodes(scanned, cleared.map((c) => c.number)); // prettier-ignore
  const volts = (list: readonly (number | null)[]): string => list.map((v) => figure(v, 2)).join('  ');
  return [
    { kind: 'heading', level: 2, text: 'Codes and scans' },
    ...(scanned.length === 0
      ? []
      : [
          {
            kind: 'table',
            columns: [
              { name: 'When', share: 2.4 },
              { name: 'Moment', share: 2 },
              { name: 'Reader', share: 2.4 },
              { name: 'Codes', share: 3 },
            ],
            rows: scanned.map((s) => [
              when(s.at),
              SCAN_MOMENT_NAMES[s.moment],
              `${s.reader}${s.isSimulated && !s.reader.includes('simulated') ? ' (simulated)' : ''}`,
              s.codes.map((c) => c.code).join(' ') || 'none',
            ]),
          } as const,
        ]),
    ...codes.map((c): ReportBlock => ({ kind: 'text', text: `${c.code}: ${CODE_FATE_NAMES[c.fate]}.` })),
    ...scanned.filter((s) => s.blockVolts.length > 0).map((s): ReportBlock => ({ kind: 'text', tone: 'quiet', text: `Blocks ${SCAN_MOMENT_NAMES[s.moment]}, V: ${volts(s.blockVolts)}` })), // prettier-ignore
    ...drained.map((d): ReportBlock => ({ kind: 'text', text: `Capacity in the car, ${d.when} the repair: ${d.ampereHour.toFixed(2)} Ah from ${d.startPercent} to ${d.endPercent} %, in ${Math.round(d.seconds)} s at ${d.celsius} °C.` })), // prettier-ignore
    ...driven.map((d): ReportBlock => ({ kind: 'text', text: `Road test of ${d.minute} min, ${when(d.at)}: ${d.isGood ? 'good' : 'not good'}. ${d.note}`.trim() })), // prettier-ignore
  ];
}
