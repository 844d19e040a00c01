/** How far the fasteners are: which are tight by their record, which is next, and why one does not count. Never stored. */
import type { Movement } from '../../../ledger/ledger.ts';
import type { Fact } from '../../../pack/fact.ts';
import { linksOf } from '../../../pack/join.ts';
import type { Part } from '../../../pack/parts.ts';
import { plusSide, type Profile } from '../../../pack/profile.ts';
import { findSlip, isTorqueWithin, showTorque } from '../../../torque/slips.ts';
import type { RebuildState, Setting, Torqued } from './state.ts';

/** What of a job its fasteners are seen by. */
export interface TorqueScene {
  readonly rebuild: Pick<RebuildState, 'settings' | 'torqued'>;
  readonly strip: { readonly moved: readonly (Movement & { readonly number: number })[] };
  readonly facts: readonly { readonly number: number; readonly fact: Fact }[];
}

export interface Seat {
  readonly seat: number;
  /** Passes that count: 0, 1 or 2. */
  readonly passes: 0 | 1 | 2;
  /** What the last one came to, as a sentence: `5.4 N·m at least`. */
  readonly said: string;
  /** Why the last one does not count; null where it does or none was made. */
  readonly fault: string | null;
}

/** Fasteners of one kind that are tightened together. */
export interface TorqueGroup {
  readonly part: Part;
  /** Terminals get a second pass over every one before covers. */
  readonly wantedPasses: 1 | 2;
  readonly seats: readonly Seat[];
  /** The tool as it was set last for them; null where none was. */
  readonly setting: Setting | null;
  readonly isDone: boolean;
  /** Next seat and pass; null where all are done. */
  readonly next: { readonly seat: number; readonly pass: 1 | 2 } | null;
}

/** How far the fasteners of a part are. */
export function findTorqueGroup(part: Part, scene: TorqueScene, profile: Profile): TorqueGroup {
  const { rebuild } = scene;
  const held = linksHeldBy(part, profile);
  const wantedPasses = held.length > 0 ? 2 : 1;
  const since = lastTakenOff(part, held, scene, profile);
  const records = rebuild.torqued.filter((t) => t.partId === part.id && t.number > since);
  const seats = Array.from({ length: part.count ?? 0 }, (_, i) =>
    seatOf(
      i + 1,
      records.filter((t) => t.seat === i + 1),
      part,
      rebuild,
    ),
  );
  const pass = seats.some((s) => s.passes < 1) || wantedPasses === 1 ? 1 : 2;
  const seat = seats.find((s) => s.passes < pass)?.seat;
  return {
    ...{ part, wantedPasses, seats },
    setting: rebuild.settings.findLast((s) => s.partId === part.id) ?? null,
    isDone: seats.every((s) => s.passes >= wantedPasses),
    next: seat === undefined ? null : { seat, pass },
  };
}

/** The links that a part's layer holds together, by its fact. */
function linksHeldBy(part: Part, profile: Profile): readonly number[] {
  const fact = profile.layers.find((l) => l.id === part.place)?.fact ?? null;
  return linksIn(fact, profile);
}

/** The links that a fact is about; none where it is about something else. */
export function linksIn(fact: Fact | null, profile: Profile): readonly number[] {
  return fact?.kind === 'frame' ? linksOf(profile)(fact.frame) : fact?.kind === 'links' ? fact.links : [];
}

/** Number of the last event that opened any of these links; 0 where none did. */
export function lastOpened(links: readonly number[], facts: TorqueScene['facts'], profile: Profile): number {
  const isOff = (fact: Fact): boolean =>
    ((fact.kind === 'frame' && fact.isOff) || (fact.kind === 'links' && fact.areOpen)) &&
    linksIn(fact, profile).some((k) => links.includes(k));
  return facts.findLast((f) => isOff(f.fact))?.number ?? 0;
}

/** Number of the last event that loosened them: counted off, or what they hold came off. A torque before it is gone. */
function lastTakenOff(part: Part, held: readonly number[], { strip, facts }: TorqueScene, profile: Profile): number {
  const counted = strip.moved.findLast((m) => m.partId === part.id && m.from.kind === 'inPlace' && m.to.kind !== 'inPlace')?.number ?? 0;
  return Math.max(counted, lastOpened(held, facts, profile));
}

/** @param records of this seat, in the order kept: one that is off its torque undoes those before it, of this seat alone */
function seatOf(seat: number, records: readonly Torqued[], part: Part, { settings }: TorqueScene['rebuild']): Seat {
  let good = new Set<1 | 2>();
  let [said, fault]: [string, string | null] = ['', null];
  for (const record of records) {
    const setting = settings.find((s) => s.settingId === record.settingId) ?? null;
    fault = whyNotCounted(record, setting, part, formerSetting(setting, settings));
    const newtonMetre = record.newtonMetre ?? setting?.setNewtonMetre ?? 0;
    // a click says that it is at least so tight, and a second click says nothing of more
    said =
      fault !== null && newtonMetre === 0
        ? ''
        : `${showTorque(newtonMetre)}${record.newtonMetre === null && record.pass === 2 ? ' at least' : ''}`;
    if (fault === null) good.add(record.pass);
    else good = new Set();
  }
  return { seat, passes: !good.has(1) ? 0 : good.has(2) ? 2 : 1, said, fault };
}

/** What the tool was set to for the fasteners before, N·m. */
function formerSetting(setting: Setting | null, settings: readonly Setting[]): number | null {
  return settings.findLast((s) => s.toolId === setting?.toolId && s.number < setting.number)?.setNewtonMetre ?? null;
}

function whyNotCounted({ newtonMetre, partId }: Torqued, setting: Setting | null, part: Part, former: number | null): string | null {
  if (setting?.partId !== partId) return 'No tool was set for it.';
  if (!part.torque) return null;
  const got = newtonMetre ?? setting.setNewtonMetre;
  const { newtonMetre: spec, tolerancePercent } = part.torque;
  if (isTorqueWithin(spec, tolerancePercent, got)) return null;
  return (
    findSlip({ specNewtonMetre: spec, tolerancePercent }, got, former)?.sentence ??
    `${showTorque(got)} where ${showTorque(spec)} is wanted.`
  );
}

/**
 * The place of the string where each seat of a row of terminal fasteners sits, in the order of the drawing; null where they are no such
 * row. A frame holds the posts of its own side, but for those that eyelets and cables take.
 */
export function placesOfSeats(part: Part, profile: Profile): { readonly side: 'near' | 'far'; readonly places: readonly number[] } | null {
  const fact = profile.layers.find((l) => l.id === part.place)?.fact;
  const frame = fact?.kind === 'frame' ? profile.frames.find((f) => f.id === fact.frame) : undefined;
  if (!frame || part.kind !== 'fastener') return null;
  const all = Array.from({ length: profile.moduleCount }, (_, i) => i + 1);
  // each place has one post on either side; a link between two places joins the posts of one side
  const taken = new Set(profile.bars.filter((b) => plusSide(profile, b.link) === frame.side).flatMap((b) => [b.link, b.link + 1]));
  const free = all.filter((p) => !taken.has(p));
  const { opensLink } = profile.plug;
  const isPlugs = (p: number): boolean =>
    opensLink !== null && plusSide(profile, opensLink) === frame.side && (p === opensLink || p === opensLink + 1);
  const own = [...new Set(frame.links.flatMap((k) => [k, k + 1]))].sort((a, b) => a - b);
  const places = [all, free, all.filter((p) => !isPlugs(p)), own].find((list) => list.length === part.count);
  return places ? { side: frame.side, places } : null;
}
