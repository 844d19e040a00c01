/** The facts that can be stated about a pack, each with how it stands and what may be said of it next. */
import { listOpenBars, plugWords, type Fact, type PackState, type Profile } from '@estuarine/core';

export interface FactRow {
  readonly key: string;
  readonly name: string;
  readonly stands: string;
  readonly choices: readonly { readonly label: string; readonly fact: Fact; readonly isCurrent: boolean }[];
}

/** On the bench posts that nobody capped lie bare. */
function areOutletsBare({ outletPosts, isOnBench }: PackState): boolean {
  return outletPosts === 'bare' || (isOnBench && outletPosts !== 'capped');
}

export function listFactRows(pack: PackState, profile: Profile): FactRow[] {
  const plug = plugWords(profile).states;
  const rows: FactRow[] = [
    row('plug', profile.plug.name, [
      [plug.latched, { kind: 'plug', isIn: true, isLatched: true }, pack.isPlugIn && pack.isPlugLatched !== false],
      [plug.loose, { kind: 'plug', isIn: true, isLatched: false }, pack.isPlugIn && pack.isPlugLatched === false],
      [plug.out, { kind: 'plug', isIn: false }, !pack.isPlugIn],
    ]),
    row('connectors', 'HV connectors, car side', [
      ['On', { kind: 'connectors', are: 'closed' }, pack.connectors === 'closed'],
      ['Off, bare', { kind: 'connectors', are: 'open' }, pack.connectors === 'open'],
      ['Off and insulated', { kind: 'connectors', are: 'insulated' }, pack.connectors === 'insulated'],
    ]),
    row('outletPosts', 'HV posts of the pack', [
      ['Covered or capped', { kind: 'outletPosts', areBare: false }, !areOutletsBare(pack)],
      ['Bare', { kind: 'outletPosts', areBare: true }, areOutletsBare(pack)],
    ]),
    row('contactors', 'Contactors', [
      ['Not proven open', { kind: 'contactors', are: 'unknown' }, pack.contactors === 'unknown' || pack.contactors === 'open'],
      ['Stuck shut', { kind: 'contactors', are: 'shut' }, pack.contactors === 'shut'],
      ['Taken out', { kind: 'contactors', are: 'takenOut' }, pack.contactors === 'takenOut'],
    ]),
    row('pack', 'Pack', [
      ['In the car', { kind: 'pack', isOnBench: false }, !pack.isOnBench],
      ['On the bench', { kind: 'pack', isOnBench: true }, pack.isOnBench],
    ]),
    row('case', 'Case', [
      ['Shut', { kind: 'case', isOpen: false }, !pack.isCaseOpen],
      ['Open', { kind: 'case', isOpen: true }, pack.isCaseOpen],
    ]),
    row('harness', 'Sense harness', [
      ['Plugged in', { kind: 'harness', isUnplugged: false }, !pack.isHarnessUnplugged],
      ['Unplugged', { kind: 'harness', isUnplugged: true }, pack.isHarnessUnplugged],
    ]),
    row('covers', 'Terminal covers', [
      ['On', { kind: 'covers', areOff: false }, pack.bareJoints.length === 0],
      ['Off', { kind: 'covers', areOff: true }, pack.bareJoints.length > pack.places.length],
    ]),
  ];
  for (const { id, name, effects } of profile.parts)
    for (const effect of effects) {
      if (effect.kind !== 'bares' || !effect.over) continue;
      const { over } = effect;
      const bare = over.filter((k) => pack.bareJoints.includes(k)).length;
      rows.push(
        row(id, name, [
          ['On', { kind: 'covers', areOff: false, over }, bare === 0],
          ['Off', { kind: 'covers', areOff: true, over }, bare === over.length],
        ]),
      );
    }
  const openBars = listOpenBars(pack, profile);
  for (const frame of profile.frames) {
    const open = frame.links.filter((k) => openBars.includes(k)).length;
    rows.push(
      row(frame.id, frame.name, [
        ['On', { kind: 'frame', frame: frame.id, isOff: false }, open === 0],
        ['Off', { kind: 'frame', frame: frame.id, isOff: true }, open === frame.links.length],
      ]),
    );
  }
  return rows;
}

function row(key: string, name: string, choices: readonly (readonly [string, Fact, boolean])[]): FactRow {
  const list = choices.map(([label, fact, isCurrent]) => ({ label, fact, isCurrent }));
  return { key, name, stands: list.find((c) => c.isCurrent)?.label ?? 'partly', choices: list };
}
