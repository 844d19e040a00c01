import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, forwardRef, input, linkedSignal, model, signal } from '@angular/core';
import { readDecimal } from '@estuarine/core';
import { blankOf, inWords, kindOf, nameOf, readNumbers, readRows, unwrap, variantsOf, type JsonSchema } from './schema.ts';

/** What is wrong, and where. */
export interface FieldFault {
  readonly path: readonly (string | number)[];
  readonly message: string;
}

/** A field of an object, as the form needs it. */
interface Part {
  readonly key: string;
  readonly schema: JsonSchema;
  readonly isOptional: boolean;
}

/** One value of a schema as a form: a number, a choice, a list, or all fields of an object, down to the last leaf. */
@Component({
  selector: 'app-schema-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgTemplateOutlet, forwardRef(() => SchemaField)],
  templateUrl: './schema-field.html',
  styleUrl: './schema-field.less',
})
export class SchemaField {
  readonly schema = input.required<JsonSchema>();
  /** Name of the field in its object; empty at the top. */
  readonly key = input('');
  readonly isOptional = input(false);
  /** Leave out the heading of an object, where the place says it already. */
  readonly isBare = input(false);
  readonly faults = input<readonly FieldFault[]>([]);
  readonly value = model<unknown>();

  protected readonly inner = computed(() => unwrap(this.schema()));
  protected readonly kind = computed(() => kindOf(this.schema()));
  protected readonly name = computed(() => {
    const title = this.schema().title ?? this.inner().schema.title;
    return title === undefined ? nameOf(this.key()) : { words: title, unit: '' };
  });
  protected readonly isAbsent = computed(() => this.value() === undefined || (this.inner().isNullable && this.value() === null));
  protected readonly canBeAbsent = computed(() => this.isOptional() || this.inner().isNullable);
  protected readonly fault = computed(() => this.faults().find((f) => f.path.length === 0)?.message ?? this.unread());
  /** What was typed and cannot be read; the value stays as it was. */
  protected readonly unread = signal<string | null>(null);
  protected readonly text = linkedSignal(() => write(this.value(), this.kind()));
  protected readonly fields = computed(() => this.#fieldsOf(this.inner().schema));
  protected readonly variants = computed(() => variantsOf(this.inner().schema));
  protected readonly variant = computed(() => {
    const value = this.value() as Record<string, unknown> | null | undefined;
    return this.variants().find((v) => v.key !== '' && value?.[v.key] === v.schema.properties?.[v.key]?.const) ?? this.variants()[0];
  });
  protected readonly variantFields = computed(() =>
    this.#fieldsOf(this.variant()?.schema ?? {}).filter((f) => kindOf(f.schema) !== 'fixed'),
  );
  protected readonly items = computed(() => (Array.isArray(this.value()) ? (this.value() as unknown[]) : []));

  #fieldsOf(schema: JsonSchema): Part[] {
    return Object.entries(schema.properties ?? {}).map(([key, part]) => ({
      ...{ key, schema: part },
      isOptional: !(schema.required ?? []).includes(key) && part.default === undefined,
    }));
  }

  /** A choice in words; figures and codes stay as they are. */
  protected say(choice: unknown): string {
    return typeof choice === 'string' ? inWords(choice) : String(choice);
  }

  /** Gives a template's variable its type back. */
  protected asFields(list: unknown): readonly Part[] {
    return list as readonly Part[];
  }

  protected part(key: string | number): unknown {
    return (this.value() as Record<string | number, unknown> | null | undefined)?.[key];
  }

  protected faultsOf(key: string | number): FieldFault[] {
    return this.faults()
      .filter((f) => String(f.path[0]) === String(key) && f.path.length > 0)
      .map((f) => ({ ...f, path: f.path.slice(1) }));
  }

  protected setPart(key: string, part: unknown): void {
    const next = { ...(this.value() as object) } as Record<string, unknown>;
    if (part === undefined) Reflect.deleteProperty(next, key);
    else next[key] = part;
    this.value.set(next);
  }

  protected setItem(index: number, item: unknown): void {
    this.value.set(this.items().map((old, i) => (i === index ? item : old)));
  }

  protected addItem(): void {
    const last = this.items().at(-1);
    // values are never changed in place, so two rows may begin as one
    this.value.set([...this.items(), last ?? blankOf(this.inner().schema.items ?? {})]);
  }

  protected removeItem(index: number): void {
    this.value.set(this.items().filter((_, i) => i !== index));
  }

  protected moveItem(index: number, by: number): void {
    const next = [...this.items()];
    const [item] = next.splice(index, 1);
    next.splice(index + by, 0, item);
    this.value.set(next);
  }

  protected setPresent(isPresent: boolean): void {
    this.unread.set(null);
    if (!isPresent) this.value.set(this.isOptional() ? undefined : null);
    else this.value.set(blankOf(this.inner().schema));
  }

  protected chooseVariant(name: string): void {
    const chosen = this.variants().find((v) => v.name === name);
    if (!chosen) return;
    // fields of the same name go along
    const old = (this.value() ?? {}) as Record<string, unknown>;
    const next = blankOf(chosen.schema) as Record<string, unknown>;
    for (const key of Object.keys(chosen.schema.properties ?? {})) if (key !== chosen.key && old[key] !== undefined) next[key] = old[key];
    this.value.set(next);
  }

  protected chooseEnum(index: string): void {
    this.value.set(this.inner().schema.enum?.[Number(index)]);
  }

  protected type(text: string): void {
    this.text.set(text);
    const read = readText(text, this.kind());
    this.unread.set(read.kind === 'fault' ? read.message : null);
    if (read.kind === 'value') {
      this.value.set(read.value);
      // written as it was typed: "7," is on its way to "7,5"
      this.text.set(text);
    }
  }
}

type ReadText = { readonly kind: 'value'; readonly value: unknown } | { readonly kind: 'fault'; readonly message: string };

function readText(text: string, kind: string): ReadText {
  if (kind === 'text') return { kind: 'value', value: text };
  if (kind === 'number') {
    const read = readDecimal(text);
    if (text.trim() === '') return { kind: 'value', value: null };
    return read.kind === 'answer' ? { kind: 'value', value: read.value } : { kind: 'fault', message: read.message };
  }
  if (kind === 'numbers') {
    const numbers = readNumbers(text);
    return numbers ? { kind: 'value', value: numbers } : { kind: 'fault', message: 'Numbers, parted by spaces or lines.' };
  }
  if (kind === 'rows') {
    const rows = readRows(text);
    return rows ? { kind: 'value', value: rows } : { kind: 'fault', message: 'One row of numbers a line.' };
  }
  try {
    return { kind: 'value', value: JSON.parse(text) as unknown };
  } catch {
    return { kind: 'fault', message: 'This is not JSON.' };
  }
}

function write(value: unknown, kind: string): string {
  if (value === undefined || value === null) return '';
  if (kind === 'numbers') return (value as number[]).join(' ');
  if (kind === 'rows') return (value as number[][]).map((r) => r.join(' ')).join('\n');
  return typeof value === 'string' ? value : JSON.stringify(value);
}
