/** When the pack counts as opened. */
import type { PackState } from '../../../pack/effect.ts';
import { listOpenBars } from '../../../pack/join.ts';
import { expectedCorner } from '../../../pack/orientation.ts';
import type { Profile } from '../../../pack/profile.ts';
import type { OpenState } from './state.ts';

/** The harness and every bar are off, and it is recorded how the pack lay. */
export function isOpened({ open, pack }: { readonly open: OpenState; readonly pack: PackState }, profile: Profile): boolean {
  const all = profile.moduleCount - 1 - (profile.plug.opensLink === null ? 0 : 1);
  return pack.isHarnessUnplugged && listOpenBars(pack, profile).length === all && isLieKnown({ open }, profile);
}

/** It is recorded how the pack lay, and the corner of the most positive post is the one that the profile says. */
export function isLieKnown({ open }: { readonly open: OpenState }, profile: Profile): boolean {
  return open.orientation !== null && open.orientation.positiveCorner === expectedCorner(profile);
}
