import { TestBed } from '@angular/core/testing';
import type { Profile } from '@estuarine/core';
import { testProfile } from '../../test/profile.ts';
import { Api } from '../transport/api.ts';
import { VersionCompare } from './version-compare.ts';

const profile: Profile = { ...testProfile(), version: 4 };

async function show(kept: readonly Profile[]) {
  const asked: string[] = [];
  const get = (path: string) => {
    asked.push(path);
    const version = Number(path.split('/').pop());
    const value = path.endsWith('/versions')
      ? { versions: kept.map((p) => p.version) }
      : { profile: kept.find((p) => p.version === version) };
    return Promise.resolve({ kind: 'answer', value });
  };
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: { get } }] });
  const fixture = TestBed.createComponent(VersionCompare);
  fixture.componentRef.setInput('profile', profile);
  await fixture.whenStable();
  return { asked, element: fixture.nativeElement as HTMLElement };
}

describe('a profile held against an earlier version', () => {
  it('says each field in words with what it was and what it is', async () => {
    const before = { ...profile, version: 2, waits: { ...profile.waits, capacitorMinute: 5 } };
    const { element } = await show([before, profile]);
    const rows = [...element.querySelectorAll('tbody tr')].map((tr) => [...tr.children].map((c) => c.textContent.trim()));
    expect(rows).toEqual([['waits › capacitor, min', '5', String(profile.waits.capacitorMinute)]]);
  });

  it('asks for no version that the shop does not have', async () => {
    const { asked, element } = await show([profile]);
    expect(asked).toEqual([`/api/profiles/${profile.id}/versions`]);
    expect(element.textContent).toContain('no earlier version');
  });

  it('says where nothing but the version differs', async () => {
    const { element } = await show([{ ...profile, version: 1 }, profile]);
    expect(element.textContent).toContain('Nothing differs but the version.');
  });
});
