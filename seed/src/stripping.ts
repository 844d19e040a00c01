/** What the demonstration's jobs took off and found: acts in the order a technician would record them, and drawn photographs. */
import { createHash } from 'node:crypto';
import { expectedCorner, suggestCell, type Act, type Condition, type Profile, type Spot, type Stage } from '@estuarine/core';
import sharp from 'sharp';

/** Everything that comes off the zones (strip) or the layers (open), each group to its cell, clips to a bag; less what `before` moved. */
export function takeOff(profile: Profile, stage: 'strip' | 'open', zones = Infinity, before: readonly Act[] = []): Act[] {
  const places = stage === 'strip' ? profile.zones.slice(0, zones) : profile.layers;
  const taken = new Set<string>();
  const acts: Act[] = [];
  for (const place of places)
    // what a fact says of covers, cables, connectors and bars moved them already
    for (const part of profile.parts.filter((p) => p.place === place.id && p.count !== null && !p.effects.some(isSaidByFact))) {
      let to: Spot = { kind: 'bag', label: place.name };
      if (['cover', 'duct', 'cable', 'bar'].includes(part.kind)) to = { kind: 'onPart' };
      else if (part.kind !== 'clip') {
        const cell = suggestCell(place.id, profile.zones, profile.layers, taken);
        if (cell !== null) {
          taken.add(cell);
          to = { kind: 'tray', cell };
        }
      }
      const gone = before.reduce((n, a) => n + (a.type === 'part.moved' && a.body.partId === part.id ? a.body.count : 0), 0);
      const rest = (part.count ?? 0) - gone;
      if (rest > 0) acts.push(moved(stage, part.id, rest, to, 'good'));
    }
  return acts;
}

function isSaidByFact({ kind }: Profile['parts'][number]['effects'][number]): boolean {
  return kind !== 'partsMounting';
}

/** A clip that broke, a bolt that was not there, one that the profile does not know, and what was seen. */
export function mishaps(profile: Profile): Act[] {
  const zone = profile.zones[0];
  const clip = profile.parts.find((p) => p.kind === 'clip' && p.place === zone?.id) ?? profile.parts.find((p) => p.kind === 'clip');
  const bolt = profile.parts.find((p) => p.kind === 'fastener');
  if (!zone || !clip || !bolt) return [];
  return [
    {
      type: 'finding.noted',
      body: {
        ...{ stage: 'strip', kind: 'tiesCut', severity: 'moderate', follow: 'watch', isOnArrival: true },
        ...{ pin: { on: 'zone', zone: zone.id }, note: 'Two ties cut and one bolt of another head: somebody was here before.' },
      },
    },
    {
      type: 'part.added',
      body: {
        ...{ stage: 'strip', kind: 'fastener', name: 'lock washer', place: zone.id, where: 'under the inner bolt', size: '8 mm' },
        ...{ count: 1, isHidden: true, isForeign: false, isProposed: true },
      },
    },
    moved('strip', bolt.id, 1, { kind: 'absent' }, 'good'),
    moved('strip', clip.id, 1, { kind: 'scrapped' }, 'broken'),
  ];
}

/** How the pack lies, as its profile says. */
export function lying(profile: Profile): Act {
  return {
    type: 'orientation.recorded',
    body: {
      ...{ positiveCorner: expectedCorner(profile), firstAt: 'first', threaded: 'alternating', vents: 'near', note: '' },
      sensors: profile.sensors.map(({ id, place }) => ({ sensorId: id, place })),
    },
  };
}

function moved(stage: Stage, partId: string, count: number, to: Spot, condition: Condition): Act {
  return { type: 'part.moved', body: { stage, partId, count, from: { kind: 'inPlace' }, to, condition } };
}

export interface DrawnPhoto {
  readonly act: Extract<Act, { type: 'photo.taken' }>;
  readonly picture: Buffer;
}

const WIDTH = 1200;
const HEIGHT = 800;

/** A drawing of a row of posts and bars, labelled as drawn: the demonstration has no camera. */
export async function drawPhoto(photoId: string, caption: string, place: string | null, isClean: boolean): Promise<DrawnPhoto> {
  const bars = Array.from({ length: 7 }, (_, i) => {
    const x = 60 + i * 160;
    const isBlack = !isClean && (i === 2 || i === 3);
    const bar = `<rect x="${x}" y="300" width="120" height="46" rx="10" fill="${isBlack ? '#3d3a33' : '#b07a4a'}" stroke="#10242b" stroke-width="4"/>`;
    const bloom = isBlack ? `<circle cx="${x + 26}" cy="322" r="20" fill="#6f9a86" opacity="0.85"/>` : '';
    const nuts = [26, 94].map((dx) => `<circle cx="${x + dx}" cy="322" r="13" fill="#cfd2cb" stroke="#10242b" stroke-width="3"/>`).join('');
    return bar + bloom + nuts;
  }).join('');
  const slabs = Array.from({ length: 15 }, (_, i) => `<rect x="${30 + i * 77}" y="240" width="66" height="420" rx="8" fill="#57696d" stroke="#10242b" stroke-width="3"/>`).join(''); // prettier-ignore
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect width="100%" height="100%" fill="#d9d4c6"/>${slabs}${bars}<rect y="730" width="100%" height="70" fill="#10242b"/><text x="24" y="776" font-family="sans-serif" font-size="34" fill="#f3f0e8">Drawn for the demonstration: no photograph</text></svg>`;
  const picture = await sharp(Buffer.from(svg)).jpeg({ quality: 80 }).toBuffer();
  const sha256 = createHash('sha256').update(picture).digest('hex');
  const body = { photoId, sha256, byte: picture.length, width: WIDTH, height: HEIGHT, caption, place, pairOf: null };
  return { picture, act: { type: 'photo.taken', body: { stage: 'open', ...body } } };
}
