/** The page that checks a sealed record: one file, no network, in any browser. */
import { checkRecord, type Checked, type KnownKey, type Verdict } from './check-record.ts';

const TITLES: Record<Verdict, string> = {
  good: 'As it was sealed',
  doubtful: 'Whole, but its key was revoked since',
  revoked: 'Sealed with a revoked key',
  otherKey: 'Whole, but nobody vouches for its key',
  changed: 'Not as it was sealed',
  noRecord: 'No sealed record',
};

function element(id: string): HTMLElement {
  const found = document.getElementById(id);
  if (!found) throw new Error(`no #${id} on the page`);
  return found;
}

/** Keys that came with the page, and one that was typed: by its fingerprint alone a key is known as well. */
function readKeys(): KnownKey[] {
  const given = JSON.parse(element('keys').textContent || '[]') as KnownKey[] | string;
  return Array.isArray(given) ? given : [];
}

function showKeys(keys: readonly KnownKey[]): void {
  const list = element('known');
  for (const { fingerprint, revokedAt } of keys) {
    const item = document.createElement('li');
    item.textContent = `${(fingerprint.match(/.{1,4}/g) ?? []).join(' ')}${revokedAt ? `, revoked ${revokedAt.slice(0, 10)}` : ''}`;
    list.append(item);
  }
  element('none').hidden = keys.length > 0;
}

function show(name: string, { verdict, says, faults, manifest }: Checked): void {
  const box = element('answer');
  box.dataset.verdict = verdict;
  box.hidden = false;
  element('title').textContent = TITLES[verdict];
  element('says').textContent = says;
  const facts = manifest
    ? `${name}: job ${manifest.job.number}, sealed ${manifest.sealedAt.slice(0, 16).replace('T', ' ')} UTC by ${manifest.sealedBy.toUpperCase()}, ${manifest.members.length} files, ${manifest.chain.head} entries. Key ${(manifest.key.fingerprint.match(/.{1,4}/g) ?? []).join(' ')}.`
    : name;
  element('facts').textContent = facts;
  element('faults').replaceChildren(
    ...faults.map((fault) => {
      const item = document.createElement('li');
      item.textContent = fault;
      return item;
    }),
  );
  box.focus();
}

const keys = readKeys();
showKeys(keys);

/** By a fingerprint that was read aloud, whatever key the record carries beside it. */
function typedKey({ manifest }: Checked): KnownKey[] {
  const typed = (element('typed') as HTMLInputElement).value.toLowerCase().replace(/[^0-9a-f]/g, '');
  return manifest?.key.fingerprint === typed ? [{ ...manifest.key, revokedAt: null, reason: null }] : [];
}

async function check(file: File): Promise<void> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const first = checkRecord(bytes, keys);
  show(file.name, first.verdict === 'otherKey' ? checkRecord(bytes, [...keys, ...typedKey(first)]) : first);
}

const picker = element('file') as HTMLInputElement;
picker.addEventListener('change', () => {
  const file = picker.files?.[0];
  if (file) void check(file);
  picker.value = '';
});
document.addEventListener('dragover', (event) => event.preventDefault());
document.addEventListener('drop', (event) => {
  event.preventDefault();
  const file = event.dataTransfer?.files[0];
  if (file) void check(file);
});
