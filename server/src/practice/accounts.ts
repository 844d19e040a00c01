/** Accounts of the demonstration, shown on its sign-in page and nowhere else. Their passphrases protect nothing. */
import type { DemoAccount } from '@estuarine/contract';

export const DEMO_ACCOUNTS: readonly DemoAccount[] = [
  { id: 'om', name: 'Odile Marram', role: 'technician', passphrase: 'low water at noon' },
  { id: 'ts', name: 'Tamsin Skerry', role: 'lead', passphrase: 'spring tide on friday' },
  { id: 'jf', name: 'Jory Fennick', role: 'apprentice', passphrase: 'mud on both boots' },
];
