import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { profilesAnswerSchema, memoriesAnswerSchema } from '@estuarine/contract';
import { Router, RouterLink } from '@angular/router';
import {
  adoptPart,
  checkProfile,
  findCuts,
  linksParted,
  listWithoutEffect,
  profileSchema,
  readProfile,
  recallJobs,
  sayEffect,
  slugOf,
  type FoundPart,
  type Profile,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import * as z from 'zod';
import { Api } from '../transport/api.ts';
import { Session } from '../session/session.ts';
import { ShopDesk } from '../stock/shop-desk.ts';
import { Notice } from '../ui/notice.ts';
import { PackDrawing, type PlaceView } from '../ui/pack-drawing.ts';
import { sayPath, type JsonSchema } from '../ui/schema-form/schema.ts';
import { SchemaField, type FieldFault } from '../ui/schema-form/schema-field.ts';
import { ProfileDraft } from './profile-draft.ts';
import { VersionCompare } from './version-compare.ts';

const SCHEMA = z.toJSONSchema(profileSchema, { io: 'input' }) as JsonSchema;

/** One profile: the pack as drawn from it, and every part of it to change, checked as it is typed. */
@Component({
  selector: 'app-profile-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, NzButtonModule, Notice, PackDrawing, SchemaField, VersionCompare],
  templateUrl: './profile-page.html',
  styleUrl: './profile-page.less',
})
export class ProfilePage {
  protected readonly sayPath = sayPath;

  /** From the address. */
  readonly profileId = input.required<string>();

  readonly #api = inject(Api);
  readonly #desk = inject(ShopDesk);
  readonly #router = inject(Router);
  readonly #draft = inject(ProfileDraft);
  protected readonly session = inject(Session);

  protected readonly schema = SCHEMA;
  protected readonly kept = signal<Profile | null>(null);
  protected readonly phase = signal<'loading' | 'ready' | 'missing' | 'unreachable'>('loading');
  protected readonly isEditing = signal(false);
  /** Held against an earlier version: fetched once somebody asks. */
  protected readonly isCompared = signal(false);
  protected readonly value = linkedSignal<unknown>(() => this.kept());
  protected readonly fault = signal<string | null>(null);
  protected readonly wasKept = signal<string | null>(null);

  /** What the form holds, read and checked; the reason and its place where it does not hold. */
  protected readonly checked = computed(() => {
    const read = profileSchema.safeParse(this.value());
    if (read.success) return checkProfile(read.data);
    const issue = read.error.issues[0];
    return { kind: 'refused', message: issue?.message ?? '', path: (issue?.path ?? []) as (string | number)[] } as const;
  });
  protected readonly faults = computed((): FieldFault[] => {
    const checked = this.checked();
    return checked.kind === 'refused' ? [{ path: checked.path, message: checked.message }] : [];
  });
  /** The last profile that was whole: drawn while the form is being changed. */
  protected readonly drawn = linkedSignal<ReturnType<typeof this.checked>, Profile | null>({
    source: () => this.checked(),
    computation: (checked, previous) => (checked.kind === 'answer' ? checked.value : (previous?.value ?? null)),
  });
  protected readonly isChanged = computed(() => JSON.stringify(this.value()) !== JSON.stringify(this.kept()));
  protected readonly places = computed((): PlaceView[] =>
    Array.from({ length: this.drawn()?.moduleCount ?? 0 }, (_, i) => ({
      ...{ place: i + 1, verdict: null, text: '', deviation: null, deviationText: '', figureVerdict: 'unknown', isPending: false },
    })),
  );
  /** What the drawing does not say by itself. */
  protected readonly facts = computed(() => {
    const p = this.drawn();
    if (!p) return [];
    const full = p.moduleCount * p.moduleType.maximumModuleVolt;
    const groups = p.frames.filter((f) => f.opensAsOne).map((f) => f.links);
    const volts = Array<number>(p.moduleCount).fill(p.moduleType.maximumModuleVolt);
    const cuts = findCuts({ moduleVolts: volts, limitVolt: 60 - 1e-6, groups });
    const way =
      cuts.kind === 'answer' && cuts.value.possible
        ? `${cuts.value.acts === 1 ? 'One act brings' : `${cuts.value.acts} acts bring`} every island of a full pack below 60 V: links ${cuts.value.links?.join(', ')}.`
        : 'No cuts bring every island below 60 V.';
    return [
      ['Full', `${full.toFixed(1)} V at most, ${(p.moduleCount * p.moduleType.nominalVolt).toFixed(1)} V nominal`],
      ['Plug', `${p.plug.where}. ${p.plug.note}`],
      ['Cuts', way],
      ['Blocks', p.blocks.join(' · ')],
      ['Air or coolant', p.airPath.map((a) => a.name).join(' → ')],
      ['Proof at', p.isolation.point.label],
    ] as const;
  });

  /** What each part bares or parts, by zone and layer, and which of them is shown on the drawing. */
  protected readonly effects = computed(() => {
    const p = this.drawn();
    if (!p) return [];
    return p.parts
      .filter((part) => part.effects.length > 0)
      .map((part) => ({ part, links: linksParted(part, p), says: part.effects.map((e) => sayEffect(e, p)).join('; ') }));
  });
  protected readonly without = computed(() => {
    const p = this.drawn();
    return p ? listWithoutEffect(p) : [];
  });
  protected readonly shownPart = signal<string | null>(null);
  protected readonly markedLinks = computed(() => this.effects().find((e) => e.part.id === this.shownPart())?.links ?? []);

  /** What of the drawing the shown part bares. */
  protected readonly bared = computed((): 'ends' | 'posts' | 'case' | null => {
    const shown = this.effects().find((e) => e.part.id === this.shownPart())?.part.effects ?? [];
    const what = shown.flatMap((e) => (e.kind === 'bares' ? [e.what] : []))[0];
    if (what === undefined) return shown.some((e) => e.kind === 'partsHarness') ? 'posts' : null;
    if (what === 'case') return 'case';
    return what === 'covers' || what === 'harnessPins' ? 'posts' : 'ends';
  });

  readonly #proposed = signal<readonly FoundPart[]>([]);
  /** Parts that jobs found and that this version does not know yet. */
  protected readonly found = computed(() => {
    const drawn = this.drawn();
    return drawn ? this.#proposed().filter((p) => adoptPart(drawn, p) !== drawn) : [];
  });

  constructor() {
    effect(() => {
      const id = this.profileId();
      untracked(() => void this.load(id));
    });
  }

  protected async load(id = this.profileId()): Promise<void> {
    this.phase.set('loading');
    const draft = this.#draft.take(id);
    const reply = await this.#api.get('/api/profiles', profilesAnswerSchema);
    // another profile is looked at meanwhile
    if (this.profileId() !== id) return;
    if (reply.kind !== 'answer') {
      this.phase.set('unreachable');
      return;
    }
    const latest = reply.value.profiles.find((p) => p.id === id) ?? null;
    this.kept.set(latest);
    if (draft) {
      this.value.set({ ...draft, version: (latest?.version ?? 0) + 1 });
      this.isEditing.set(true);
    }
    this.phase.set(latest || draft ? 'ready' : 'missing');
  }

  protected edit(): void {
    const kept = this.kept();
    if (kept) this.value.set({ ...kept, version: kept.version + 1 });
    this.isEditing.set(true);
    this.wasKept.set(null);
    if (kept) void this.#loadProposed(kept);
  }

  /** The same under a name of its own, in its first version: nobody has kept it yet. */
  protected copy(): void {
    const kept = this.kept();
    if (!kept) return;
    const name = `${kept.name}, copy`;
    this.#draft.hold({ ...kept, id: slugOf(name), name, version: 1 });
    void this.#router.navigate(['/profiles', slugOf(name)]);
  }

  protected adopt(part: FoundPart): void {
    const drawn = this.drawn();
    if (drawn) this.value.set(adoptPart(drawn, part));
  }

  async #loadProposed(profile: Profile): Promise<void> {
    const reply = await this.#api.get(`/api/profiles/${profile.id}/memory`, memoriesAnswerSchema);
    if (reply.kind === 'answer') this.#proposed.set(recallJobs(reply.value.memories, profile).proposed);
  }

  protected leave(): void {
    this.value.set(this.kept());
    this.isEditing.set(false);
    this.fault.set(null);
    if (!this.kept()) void this.#router.navigate(['/profiles']);
  }

  protected async publish(): Promise<void> {
    const read = readProfile(this.value());
    if (read.kind === 'refused') return;
    const fault = await this.#desk.act({ type: 'profile.published', body: { profile: read.value } });
    this.fault.set(fault);
    if (fault !== null) return;
    this.isEditing.set(false);
    this.wasKept.set(`Kept as version ${read.value.version}. Jobs that are open keep the version they began with.`);
    if (read.value.id === this.profileId()) await this.load();
    else await this.#router.navigate(['/profiles', read.value.id]);
  }

  protected save(): void {
    const text = JSON.stringify(this.value(), null, 2);
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
    link.download = `${this.profileId()}.json`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  }
}
