/** A job on its way out: sweeps and plan as CSV for any spreadsheet. Text that a spreadsheet would run as a formula is defused. */
import { countingReading, knownParts, recordModules, SWEEP_QUANTITIES, type JobState, type Policy, type Profile } from '@estuarine/core';
import Papa from 'papaparse';

/** A text cell that begins with = + - @ gets an apostrophe; numbers stay numbers. */
export function toCsv(fields: readonly string[], rows: readonly (readonly (string | number | null)[])[]): string {
  const defuse = (cell: string | number | null): string | number | null =>
    typeof cell === 'string' && /^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell;
  return Papa.unparse({ fields: [...fields], data: rows.map((r) => r.map(defuse)) }, { newline: '\r\n' });
}

/** Every reading ever kept, one row each, corrections beside what they correct; none counts where what was read was another module's. */
export function sweepsCsv(state: JobState): string {
  const rows = state.sweep.sweeps.flatMap((sweep) => {
    const { id, kind, startedAt, loadAmpere, loadSecond } = sweep;
    return SWEEP_QUANTITIES[kind].flatMap((quantity) => {
      const lists = [...(sweep.readings[quantity] ?? [])].sort(([, [a]], [, [b]]) => (a?.place ?? 0) - (b?.place ?? 0));
      return lists.flatMap(([moduleId, list]) =>
        list.map((r) => [
          ...[id, kind, startedAt, loadAmpere, loadSecond, r.place, moduleId.startsWith('?') ? '' : moduleId],
          ...[quantity, r.value, r.by, r.number, r === countingReading(sweep, quantity, moduleId) ? 'counts' : 'corrected'],
        ]),
      );
    });
  });
  return toCsv(
    ['sweep', 'kind', 'started', 'load / A', 'load / s', 'place', 'module', 'quantity', 'value', 'by', 'event', 'standing'],
    rows,
  );
}

/** The stack as planned, one row a place, with what is known of each module. */
export function planCsv(state: JobState, profile: Profile, policy: Policy): string {
  const records = new Map(recordModules(state, profile, policy.limits).map((r) => [r.moduleId, r]));
  const fromShelf = new Set(state.plan.chosen?.fromShelf ?? []);
  const rows = (state.plan.chosen?.moduleIds ?? []).map((id, i) => {
    const record = records.get(id);
    const source = fromShelf.has(id) ? 'shelf' : record?.place === i + 1 ? 'stays' : `from place ${record?.place ?? '?'}`;
    return [i + 1, id, source, record?.figures.capacityAh ?? null, record?.milliohm ?? null, record?.restingVolt ?? null];
  });
  return toCsv(['place', 'module', 'from', 'capacity / Ah', 'resistance / mohm', 'resting voltage / V'], rows);
}

/** Every fastener as it was tightened, one row each, in the order kept. */
export function torqueCsv(state: JobState, profile: Profile): string {
  const names = new Map(knownParts(state, profile).map((p) => [p.id, p]));
  const settings = new Map(state.rebuild.settings.map((s) => [s.settingId, s]));
  const terminals = state.rebuild.torqued.map((t) => {
    const [part, setting] = [names.get(t.partId), settings.get(t.settingId)];
    const asked = part?.torque?.newtonMetre ?? null;
    return [...[t.partId, part?.name ?? '', t.seat, t.pass, asked, setting?.setNewtonMetre ?? null, t.newtonMetre, setting?.toolId ?? '', t.by, t.at, t.number]]; // prettier-ignore
  });
  const groups = state.refit.tightened.map((t) => {
    const part = names.get(t.partId);
    return [t.partId, part?.name ?? '', null, 1, part?.torque?.newtonMetre ?? null, null, t.newtonMetre, '', t.by, t.at, t.number];
  });
  return toCsv(
    ['part', 'name', 'seat', 'pass', 'asked / Nm', 'set / Nm', 'shown / Nm', 'tool', 'by', 'at', 'event'],
    [...terminals, ...groups],
  );
}
