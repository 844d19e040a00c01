/** Findings in words. */
import type { Profile } from '../../../pack/profile.ts';
import type { FindingKind, FollowUp, Pin, Severity } from './acts.ts';

export const FINDING_WORDS: Record<FindingKind, string> = {
  corrosion: 'corrosion',
  heatMark: 'heat mark',
  leak: 'leak',
  bulge: 'bulge',
  burntPin: 'burnt pin',
  tiesCut: 'ties cut',
  sealTorn: 'seal torn',
  missing: 'something missing',
  wrongPart: 'wrong part',
  other: 'other',
};

export const FOLLOW_WORDS: Record<FollowUp, string> = {
  nothing: 'nothing follows',
  watch: 'watch it',
  clean: 'clean it',
  renew: 'renew it',
  order: 'order it',
};

export const SEVERITY_WORDS: Record<Severity, string> = { slight: 'slight', moderate: 'moderate', severe: 'severe' };

/** Where a finding sits, as a person says it. */
export function sayPin(pin: Pin, profile: Profile): string {
  switch (pin.on) {
    case 'zone':
      return profile.zones.find((z) => z.id === pin.zone)?.name ?? pin.zone;
    case 'layer':
      return profile.layers.find((l) => l.id === pin.layer)?.name ?? pin.layer;
    case 'module':
      return `module ${pin.place}`;
    case 'link':
      return `link ${pin.link}`;
    case 'photo':
      return 'on a photograph';
  }
}
