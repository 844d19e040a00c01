/** Profiles as they come from files and from the past: older forms are brought up step by step, then parsed, then checked. */
import { refuse, type Result } from '../result.ts';
import type { Part } from './parts.ts';
import { usualWake } from './wake.ts';
import { usualWayUp } from './way-up.ts';
import { checkProfile, PROFILE_SCHEMA_VERSION, profileSchema, type Profile } from './profile.ts';

type Loose = Record<string, unknown>;

/** Each brings a profile of its version to the next; never changed once released. */
const UPGRADES: readonly ((old: Loose) => Loose)[] = [upgradeFirst, upgradeSecond, upgradeThird, upgradeFourth, upgradeFifth];

/**
 * A profile of any version, fit to be used.
 * Refusals: `unreadable` for what is no profile at all or from a later version, `impossible` for a field that does not fit,
 * `mismatch` for parts that do not fit each other; the path leads to the place.
 */
export function readProfile(raw: unknown): Result<Profile> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) return refuse('unreadable', 'A profile is a JSON object.');
  const version = (raw as Loose).schemaVersion;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return refuse('unreadable', 'A profile says its schemaVersion.', ['schemaVersion']);
  if (version > PROFILE_SCHEMA_VERSION)
    return refuse('unreadable', `This profile has the form ${version}; forms up to ${PROFILE_SCHEMA_VERSION} are known here.`, [
      'schemaVersion',
    ]);
  let document = raw as Loose;
  try {
    for (const upgrade of UPGRADES.slice(version - 1)) document = upgrade(document);
  } catch {
    return refuse('unreadable', `This is no profile of the form ${version}.`);
  }
  const parsed = profileSchema.safeParse(document);
  if (parsed.success) return checkProfile(parsed.data);
  const issue = parsed.error.issues[0];
  const path = (issue?.path ?? []).map((p) => (typeof p === 'symbol' ? p.toString() : p));
  return refuse('impossible', `${path.join('.') || 'The profile'}: ${issue?.message ?? 'does not fit.'}`, path);
}

/** Form 1 knew torques without places, and nothing of plug kinds, bays, air path or steps of isolation. */
function upgradeFirst(old: Loose): Loose {
  const { torques, plug, ...rest } = old as { torques: { fastener: string; [key: string]: unknown }[]; plug: Loose };
  return {
    ...rest,
    schemaVersion: 2,
    posts: { thread: (old.moduleType as Loose).posts, nutFastener: null, note: '' },
    bays: [],
    plug: { ...plug, kind: 'lever', where: 'not noted', parking: null, isKeyTo: null },
    bars: [],
    sense: { by: 'block', connector: 'sense connector' },
    fasteners: torques.map(({ fastener, ...torque }) => ({
      id: fastener
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-|-$/g, ''),
      ...{ name: fastener, where: 'not noted', size: '', count: null, tool: '', torque },
    })),
    airPath: [],
    isolation: { points: 'HV posts, as the maker says', extraSteps: [] },
    hazards: [],
  };
}

const LAYER_NAMES: Record<string, string> = { case: 'case lid', harness: 'sense harness', covers: 'terminal covers', links: 'bus bars' };

/** Form 2 knew fasteners without places, and nothing of zones, layers, transfers, the lift and quotes. */
function upgradeSecond(old: Loose): Loose {
  const { fasteners, ...rest } = old as { fasteners: Loose[]; [key: string]: unknown };
  const { nutFastener } = old.posts as { nutFastener: string | null };
  const frames = old.frames as { id: string; name: string }[];
  const procedure = old.procedure as { stage: string; fact: { kind: string; frame?: string } }[];
  const layers = procedure
    .filter(({ stage }) => stage === 'open')
    .map(({ fact }, i) => {
      const frame = frames.find((f) => f.id === fact.frame);
      return { id: `layer-${i + 1}`, name: frame?.name ?? LAYER_NAMES[fact.kind] ?? fact.kind, fact, note: '' };
    });
  const bars = layers.find(({ fact }) => fact.kind === 'frame' || fact.kind === 'links');
  return {
    ...rest,
    schemaVersion: 3,
    zones: [{ id: 'vehicle', name: 'around the pack', area: { x: 55, y: 6, length: 35, width: 32 }, note: '' }],
    layers,
    parts: fasteners.map((fastener) => ({
      ...fastener,
      kind: fastener.size === 'clip' ? 'clip' : 'fastener',
      place: fastener.id === nutFastener && bars ? bars.id : 'vehicle',
      ...{ isHidden: false, caution: '' },
    })),
    transfer: [],
    lift: {
      by: (old.massKilogram as number) > 60 ? 'hoist' : 'twoPeople',
      path: 'Not noted: look for the way out and for cables caught on it.',
      ...{ horizontalCentimetre: 40, verticalCentimetre: 50, travelCentimetre: 40, asymmetryDegree: 30, coupling: 'fair' },
    },
    quotes: [],
  };
}

/** Form 3 knew the point of proof in words alone, and nothing of what taking a part off does. */
function upgradeThird(old: Loose): Loose {
  const { points, ...isolation } = old.isolation as { points: string; [key: string]: unknown };
  return {
    ...old,
    schemaVersion: 4,
    isolation: { ...isolation, point: { at: 'carSide', label: points } },
    parts: (old.parts as Loose[]).map((part) => ({ ...part, effects: [] })),
  };
}

/** Form 4 knew no way up, so the layers went on again from the innermost out. */
function upgradeFourth(old: Loose): Loose {
  const { layers, parts } = old as { layers: { id: string; name: string; note: string }[]; parts: { id: string; place: string }[] };
  return { ...old, schemaVersion: 5, rebuild: usualWayUp(layers, parts), coolant: null };
}

/** Form 5 knew of the air only its way, and nothing of how the car is woken and scanned. */
function upgradeFifth(old: Loose): Loose {
  const { plug, zones, parts } = old as { plug: { kind: string }; zones: { id: string }[]; parts: Part[] };
  return {
    ...{ ...old, schemaVersion: 6, wake: usualWake(plug.kind, zones, parts), scan: null },
    airPath: (old.airPath as Loose[]).map((part) => ({ ...part, note: '', pins: '' })),
    // a usual fan; that it comes out only with the pack dead is the careful reading
    cooling: { cleanCubicMetrePerHour: 140, stripMonths: null, fanNeedsDead: true },
  };
}
