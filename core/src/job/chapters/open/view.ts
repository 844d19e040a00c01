/** When the pack counts as opened. */
import type { PackState } from '../../../pack/effect.ts';
import { listOpenBars } from '../../../pack/join.ts';
import type { Profile } from '../../../pack/profile.ts';
import type { OpenState } from './state.ts';

/** The harness and every bar are off, and it is recorded how the pack lay. */
export function isOpened({ open, pack }: { readonly open: OpenState; readonly pack: PackState }, profile: Profile): boolean {
  const all = profile.moduleCount - 1 - (profile.plug.opensLink === null ? 0 : 1);
  return pack.isHarnessUnplugged && listOpenBars(pack, profile).length === all && open.orientation !== null;
}
