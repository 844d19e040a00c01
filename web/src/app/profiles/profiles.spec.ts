import { TestBed } from '@angular/core/testing';
import { provideRouter, Router } from '@angular/router';
import type { Profile } from '@estuarine/core';
import { testProfile } from '../../test/profile.ts';
import { NewProfilePage } from './new-profile-page.ts';
import { PackFilter } from './pack-filter.ts';
import { ProfileDraft } from './profile-draft.ts';

const profile = testProfile();

async function write(fixture: { nativeElement: unknown; whenStable: () => Promise<unknown> }, label: string, text: string): Promise<void> {
  const field = [...(fixture.nativeElement as HTMLElement).querySelectorAll('label')].find((l) => l.textContent.trim().startsWith(label));
  const box = field?.querySelector<HTMLInputElement | HTMLSelectElement>('input, select');
  if (!box) throw new Error(`no field ${label}`);
  if (box instanceof HTMLSelectElement) box.selectedIndex = [...box.options].findIndex((o) => o.text.trim() === text);
  else box.value = text;
  box.dispatchEvent(new Event(box instanceof HTMLSelectElement ? 'change' : 'input'));
  await fixture.whenStable();
}

describe('a profile from nothing', () => {
  async function page() {
    TestBed.configureTestingModule({ providers: [provideRouter([{ path: '**', children: [] }])] });
    const fixture = TestBed.createComponent(NewProfilePage);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    const goOn = element.querySelector<HTMLButtonElement>('button[type=submit]');
    if (!goOn) throw new Error('no way on');
    return { fixture, element, goOn, write: (label: string, text: string) => write(fixture, label, text) };
  }

  it('is drawn at once, and goes to the editor as a draft that nobody has kept', async () => {
    const { fixture, element, goOn, write: say } = await page();
    expect(element.querySelector('app-pack-drawing')).not.toBeNull();
    await say('Name', 'Reed Warbler 30');
    await say('Modules in series', '30');
    await say('Opens the link', '15');
    expect(element.textContent).toContain('30 × 6 cells NiMH, 216.0 V nominal, 288 V at most');
    goOn.click();
    await fixture.whenStable();
    expect(TestBed.inject(Router).url).toBe('/profiles/reed-warbler-30');
    expect(TestBed.inject(ProfileDraft).take('reed-warbler-30')).toMatchObject({ version: 1, moduleCount: 30 });
  });

  it('says at the field what does not fit, and keeps the last drawing', async () => {
    const { element, goOn, write: say } = await page();
    await say('Modules in a block', '2 2 2');
    expect(goOn.disabled).toBe(true);
    expect(element.querySelector('[role=alert]')?.textContent).toContain('The blocks hold 6 modules');
    expect(element.querySelector('app-pack-drawing')).not.toBeNull();
    await say('Modules in a block', '2');
    expect(goOn.disabled).toBe(false);
    for (const wrong of ['0', '201', '-4', 'many', '1e9', '28.5']) {
      await say('Modules in series', wrong);
      expect([wrong, goOn.disabled]).toEqual([wrong, true]);
    }
  });
});

describe('finding a pack', () => {
  it('narrows by what can be seen, and says where none is like that', async () => {
    const fixture = TestBed.createComponent(PackFilter);
    const other: Profile = { ...profile, id: 'other', name: 'Other 12', moduleType: { ...profile.moduleType, chemistry: 'liion' } };
    fixture.componentRef.setInput('profiles', [profile, other]);
    const found: string[][] = [];
    fixture.componentInstance.found.subscribe((list) => found.push(list.map((p) => p.id)));
    await fixture.whenStable();
    await write(fixture, 'Chemistry', 'lithium-ion');
    await write(fixture, 'Search', 'nothing like it');
    expect(found).toEqual([['other'], []]);
    expect((fixture.nativeElement as HTMLElement).textContent).toContain('None of the 2 packs is like that.');
  });
});
