import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { findLedger, fold, listLayers, type Act } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { LayerDrawing } from './layer-drawing.ts';
import { OrientationForm } from './orientation-form.ts';

const profile = testProfile();

function stateOf(...acts: Act[]) {
  return fold(
    profile,
    eventsOf(profile, acts, () => '2026-05-04T08:00:00.000Z'),
  );
}

describe('how the pack lies', () => {
  async function form(role: string, ...acts: Act[]) {
    const taken: Act[] = [];
    const log = {
      profile: signal(profile),
      state: signal(stateOf(...acts)),
      jobId: signal('j'),
      act: (act: Act) => {
        taken.push(act);
        return Promise.resolve('c');
      },
    };
    TestBed.configureTestingModule({
      providers: [
        provideRouter([]),
        { provide: JobLog, useValue: log },
        { provide: Session, useValue: { person: signal({ id: 'om', name: 'OM', role }) } },
      ],
    });
    const fixture = TestBed.createComponent(OrientationForm);
    await fixture.whenStable();
    return { fixture, element: fixture.nativeElement as HTMLElement, taken };
  }

  const choose = (element: HTMLElement, ...indices: number[]): void => {
    for (const [i, box] of [...element.querySelectorAll('select')].entries()) {
      box.selectedIndex = indices[i] ?? 0;
      box.dispatchEvent(new Event('change'));
    }
  };
  const submit = (element: HTMLElement): boolean | undefined => element.querySelector('form')?.dispatchEvent(new Event('submit'));
  const button = (element: HTMLElement, text: string): HTMLButtonElement | undefined =>
    [...element.querySelectorAll('button')].find((b) => b.textContent.includes(text));

  it('fills nothing in beforehand and keeps nothing that was not read off the pack', async () => {
    const { fixture, element, taken } = await form('technician');
    submit(element);
    await fixture.whenStable();
    expect(element.querySelector('[role=alert]')?.textContent).toContain('read off the pack first');
    choose(element, 4, 1, 1, 0);
    submit(element);
    expect(taken).toEqual([]);
  });

  it('keeps corner, ends, posts, vents and where each sensor was found, or that it was not', async () => {
    const { fixture, element, taken } = await form('technician');
    choose(element, 4, 1, 1, 2);
    const [first] = element.querySelectorAll('input');
    if (!first) throw new Error('no sensor');
    first.value = '29';
    first.dispatchEvent(new Event('input'));
    submit(element);
    await fixture.whenStable();
    expect(element.querySelector('[role=alert]')?.textContent).toContain('a module from 1 to 28');
    first.value = '4';
    first.dispatchEvent(new Event('input'));
    submit(element);
    expect(taken).toEqual([
      {
        type: 'orientation.recorded',
        body: {
          ...{ positiveCorner: 'lastFar', firstAt: 'first', threaded: 'alternating', vents: 'far', note: '' },
          sensors: [
            { sensorId: 't-front', place: 4 },
            { sensorId: 't-middle', place: null },
            { sensorId: 't-rear', place: null },
          ],
        },
      },
    ]);
  });

  const recorded: Act = {
    type: 'orientation.recorded',
    body: { positiveCorner: 'firstNear', firstAt: 'first', threaded: 'near', vents: 'top', note: '', sensors: [] },
  };

  it('says where the pack lies otherwise than its profile, and lets only who may release the modules do so', async () => {
    const { element, taken } = await form('technician', recorded);
    expect(element.querySelector('.odd')?.textContent).toContain('control unit, vent side');
    expect(element.textContent).toContain('on top');
    button(element, 'Let the modules be moved')?.click();
    expect(taken).toEqual([{ type: 'modules.released', body: {} }]);
    TestBed.resetTestingModule();
    const apprentice = await form('apprentice', recorded);
    expect(button(apprentice.element, 'Let the modules be moved')).toBeUndefined();
    TestBed.resetTestingModule();
    const released = await form('technician', recorded, { type: 'modules.released', body: {} });
    expect(released.element.querySelector('a')?.textContent).toContain('Print the module labels');
  });
});

it('the layers say in words what the drawing shows, and a press picks the one it meets', async () => {
  const state = stateOf({ type: 'fact.stated', body: { stage: 'open', fact: { kind: 'case', isOpen: true } } });
  const fixture = TestBed.createComponent(LayerDrawing);
  fixture.componentRef.setInput('layers', listLayers(state, profile, findLedger(state, profile)));
  fixture.componentRef.setInput('selected', 'sense');
  const picked: string[] = [];
  fixture.componentInstance.pick.subscribe((id) => picked.push(id));
  await fixture.whenStable();
  const svg = (fixture.nativeElement as HTMLElement).querySelector('svg');
  if (!svg) throw new Error('no drawing');
  expect(svg.getAttribute('aria-label')).toContain('case lid: off, 0 V in reach once it is off');
  expect(svg.querySelectorAll('.is-off')).toHaveLength(1);
  svg.getBoundingClientRect = () => ({ top: 0, left: 0, width: 320, height: 20 + 6 * 52 }) as DOMRect;
  svg.dispatchEvent(Object.assign(new Event('pointerup'), { clientX: 50, clientY: 6 + 2.5 * 52 }));
  expect(picked).toEqual(['terminal-covers']);
});
