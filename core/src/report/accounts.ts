/** What is counted and owed: torque, parts, what goes back to a supplier, and whether its conditions are met. */
import { ACT_TRAITS, isActType } from '../job/frame/acts.ts';
import { CORE_CHECK_NAMES } from '../job/chapters/hand-over/acts.ts';
import { findCoreDesk } from '../job/chapters/hand-over/view.ts';
import { findTorqueGroup } from '../job/chapters/rebuild/torque-view.ts';
import { findLedger, listTransfers } from '../job/chapters/strip/view.ts';
import { judgeTerms } from '../job/line/warranty-view.ts';
import { showTorque } from '../torque/slips.ts';
import { initials, type Words, type ReportBlock, type ReportInput } from './blocks.ts';

export function writeTorque({ state, profile }: ReportInput, { when }: Words): ReportBlock[] {
  const groups = profile.parts
    .filter((p) => p.torque !== null)
    .map((p) => findTorqueGroup(p, state, profile))
    .filter((g) => g.seats.some((s) => s.said !== '' || s.fault !== null));
  const inCar = state.refit.tightened;
  if (groups.length + inCar.length === 0) return [];
  const nameOf = (partId: string): string => profile.parts.find((p) => p.id === partId)?.name ?? partId;
  return [
    { kind: 'heading', level: 2, text: 'Torque' },
    ...groups.flatMap((g): ReportBlock[] => {
      const { torque, name, where } = g.part;
      const done = g.seats.filter((s) => s.passes >= g.wantedPasses).length;
      const tool = g.setting ? `, ${g.setting.toolLabel || g.setting.toolId} set to ${showTorque(g.setting.setNewtonMetre)}` : '';
      return [
        { kind: 'text', text: `${name}, ${where}: ${done} of ${g.seats.length} in ${g.wantedPasses} ${g.wantedPasses === 1 ? 'pass' : 'passes'}, asked ${torque ? showTorque(torque.newtonMetre) : ''}${tool}.` }, // prettier-ignore
        { kind: 'text', tone: 'quiet', text: g.seats.map((s) => `${s.seat}: ${s.said.replace(/ \(.*?\)/, '') || '–'}${s.fault === null ? '' : ' (does not count)'}`).join(' · ') }, // prettier-ignore
      ];
    }),
    ...(inCar.length === 0
      ? []
      : ([
          {
            kind: 'table',
            columns: [
              { name: 'Of the vehicle', share: 4 },
              { name: 'to', share: 3 },
              { name: 'When', share: 2.4 },
              { name: 'By', share: 1 },
            ],
            rows: inCar.map((t) => [nameOf(t.partId), showTorque(t.newtonMetre), when(t.at), initials(t.by)]),
          },
        ] as const)),
  ];
}

export function writeParts({ state, profile }: ReportInput): ReportBlock[] {
  const { parts } = findLedger(state, profile);
  const rows = parts
    .filter((b) => b.owed > 0 || b.leftOff > 0 || b.foreign > 0 || b.toOrder > 0)
    .map((b) => {
      const said = state.strip.leftOff.filter((l) => l.partId === b.part.id).map((l) => `${l.reason} Then: ${l.followUp}`);
      return [b.part.name, b.part.where, `${Math.max(0, b.owed)}`, `${b.leftOff}`, `${b.toOrder}`, said.join(' ')];
    });
  const moved = listTransfers(state, profile).filter((t) => t.isDone);
  if (rows.length + moved.length === 0 && state.strip.moved.length === 0) return [];
  return [
    { kind: 'heading', level: 2, text: 'Parts' },
    ...(rows.length === 0
      ? ([{ kind: 'text', text: 'Everything that came off is back: nothing is owed and nothing was left off.' }] as const)
      : ([
          {
            kind: 'table',
            columns: [
              { name: 'Part', share: 2.5 },
              { name: 'Where', share: 2.5 },
              { name: 'owed', isFigure: true, share: 1 },
              { name: 'left off', isFigure: true, share: 1.2 },
              { name: 'to order', isFigure: true, share: 1.2 },
              { name: 'Why', share: 3 },
            ],
            rows,
          },
        ] as const)),
    ...(moved.length > 0
      ? [{ kind: 'text', text: `To the other pack: ${moved.map((t) => `${t.transfer.name} (${t.fate})`).join(', ')}.` } as const]
      : []),
  ];
}

/** Words in another's name that nothing proves, as long as nobody answered for them: both names stand. */
export function writePassed({ state }: ReportInput, { when }: Words): ReportBlock[] {
  if (state.passed.length === 0) return [];
  return [
    { kind: 'heading', level: 2, text: 'Passed on, unproven' },
    { kind: 'text', text: 'Sent in another person’s name, who has not said it: none of it counts for anything in this report.', tone: 'caution' }, // prettier-ignore
    {
      kind: 'table',
      columns: [
        { name: 'What', share: 4 },
        { name: 'For', share: 1 },
        { name: 'Passed on by', share: 1.5 },
        { name: 'When', share: 2.5 },
      ],
      rows: state.passed.map((p) => [sayDoes(p.said.type), initials(p.of), initials(p.by), when(p.at)]),
    },
  ];
}

function sayDoes(type: string): string {
  return isActType(type) ? ACT_TRAITS[type].does : type;
}

export function writeCoreDesk({ state }: ReportInput, { money, when }: Words): ReportBlock[] {
  const desk = findCoreDesk(state.handOver);
  if (!desk) return [];
  const { shipped, settled } = desk;
  return [
    { kind: 'heading', level: 2, text: 'What goes back to the supplier' },
    {
      kind: 'facts',
      rows: [
        { name: 'Supplier', value: desk.supplier },
        {
          name: 'What',
          value: desk.what === 'pack' ? `${desk.count} whole` : `${desk.count} loose ${desk.count === 1 ? 'module' : 'modules'}`,
        },
        { name: 'Deposit', value: money(desk.deposit) },
        { name: 'Ship by', value: desk.shipBy },
        { name: 'Looked at', value: desk.checks.map((c) => `${CORE_CHECK_NAMES[c.check]}: ${c.isGood === null ? 'not looked at' : c.isGood ? 'yes' : 'no'}`).join('. ') }, // prettier-ignore
        {
          name: 'Shipped',
          value: shipped
            ? `${shipped.on}, ${desk.shippedCount} of ${desk.count}${shipped.carrier ? ` by ${shipped.carrier}` : ''} (${initials(shipped.by)})`
            : 'not yet',
        },
        { name: 'Came of it', value: settled ? `${settled.outcome}, ${money(settled.credit)}, ${when(settled.at)}. ${settled.note}`.trim() : 'not settled' }, // prettier-ignore
      ],
    },
  ];
}

export function writeTerms({ state, profile, policy, terms, now }: ReportInput): ReportBlock[] {
  if (!terms) return [];
  return [
    { kind: 'heading', level: 2, text: `Conditions of ${terms.supplier}` },
    { kind: 'text', text: `Version ${terms.version}, ${terms.months} months.`, tone: 'quiet' },
    {
      kind: 'table',
      columns: [
        { name: 'Condition', share: 4 },
        { name: 'Standing', share: 1.5 },
        { name: 'Why', share: 4 },
      ],
      rows: judgeTerms(state, profile, terms, now, policy.isolation.timeZone).map((c) => [c.sentence, c.standing, c.why]),
    },
  ];
}
