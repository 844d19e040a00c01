/** How far the pack is back and the car awake: the chapter's view with the ledger and the exchange beside it. */
import type { Balance } from '../../ledger/ledger.ts';
import type { Profile } from '../../pack/profile.ts';
import { findRefit, type PutBackFirst, type Refit } from '../chapters/refit/view.ts';
import { findLedger, listTransfers } from '../chapters/strip/view.ts';
import type { JobState } from './state.ts';

/**
 * @param ledger of the state, where it is known already
 * @param back which of plug and 12 V the shop puts back on first
 */
export function refitOf(
  state: JobState,
  profile: Profile,
  ledger: Balance = findLedger(state, profile),
  back: PutBackFirst = 'plugFirst',
): Refit {
  const left = listTransfers(state, profile).filter((t) => !t.isDone);
  return findRefit(state, profile, ledger, left.map((t) => t.transfer.name), back); // prettier-ignore
}
