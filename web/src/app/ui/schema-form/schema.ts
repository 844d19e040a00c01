/** The part of JSON Schema that our own schemas use, and what a form needs to know of it. */
import { readDecimal } from '@estuarine/core';

export interface JsonSchema {
  /** What the field is called, where its key does not say it. */
  readonly title?: string;
  readonly type?: string;
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly anyOf?: readonly JsonSchema[];
  readonly oneOf?: readonly JsonSchema[];
  readonly properties?: Readonly<Record<string, JsonSchema>>;
  readonly required?: readonly string[];
  readonly items?: JsonSchema;
  readonly prefixItems?: readonly JsonSchema[];
  readonly default?: unknown;
  readonly format?: string;
  readonly maxLength?: number;
}

export type FieldKind = 'object' | 'list' | 'numbers' | 'rows' | 'variant' | 'choice' | 'number' | 'text' | 'flag' | 'fixed' | 'any';

/** What a nullable schema holds besides null, and whether it may be null. */
export function unwrap(schema: JsonSchema): { readonly schema: JsonSchema; readonly isNullable: boolean } {
  const parts = schema.anyOf ?? [];
  const rest = parts.filter((p) => p.type !== 'null');
  const [only] = rest;
  if (parts.length > rest.length && rest.length === 1 && only) return { schema: only, isNullable: true };
  return { schema, isNullable: false };
}

export function kindOf(given: JsonSchema): FieldKind {
  const { schema } = unwrap(given);
  if (schema.const !== undefined) return 'fixed';
  if (schema.enum) return 'choice';
  if (schema.oneOf ?? schema.anyOf) return 'variant';
  if (schema.type === 'object') return schema.properties ? 'object' : 'any';
  if (schema.type === 'array') {
    const items = schema.items ? unwrap(schema.items).schema : {};
    if (isNumber(items)) return 'numbers';
    if (items.prefixItems?.every(isNumber) || (items.type === 'array' && items.items && isNumber(items.items))) return 'rows';
    return 'list';
  }
  if (isNumber(schema)) return 'number';
  if (schema.type === 'boolean') return 'flag';
  return schema.type === 'string' ? 'text' : 'any';
}

function isNumber(schema: JsonSchema): boolean {
  return schema.type === 'number' || schema.type === 'integer';
}

/** The variants of a union that a constant field tells apart. */
export function variantsOf(schema: JsonSchema): { readonly name: string; readonly key: string; readonly schema: JsonSchema }[] {
  return (schema.oneOf ?? schema.anyOf ?? []).map((variant, i) => {
    const [key, tag] = Object.entries(variant.properties ?? {}).find(([, p]) => p.const !== undefined) ?? ['', null];
    return { key, name: tag ? String(tag.const) : `form ${i + 1}`, schema: variant };
  });
}

/** The value a new field begins with. */
export function blankOf(given: JsonSchema): unknown {
  if (given.default !== undefined) return given.default;
  const { schema, isNullable } = unwrap(given);
  if (isNullable) return null;
  switch (kindOf(schema)) {
    case 'fixed':
      return schema.const;
    case 'choice':
      return schema.enum?.[0];
    case 'variant':
      return blankOf(variantsOf(schema)[0]?.schema ?? {});
    case 'object':
      return Object.fromEntries(
        Object.entries(schema.properties ?? {})
          .filter(([key]) => schema.required?.includes(key))
          .map(([key, part]) => [key, blankOf(part)]),
      );
    case 'list':
    case 'numbers':
    case 'rows':
      return [];
    case 'flag':
      return false;
    case 'number':
      return null;
    case 'text':
      return '';
    case 'any':
      return null;
  }
}

const UNITS: readonly (readonly [string, string])[] = [
  ...([
    ['NewtonMetre', 'N·m'],
    ['PoundForceInch', 'lbf·in'],
    ['PoundForceFoot', 'lbf·ft'],
  ] as const),
  ...([
    ['CubicMetrePerHour', 'm³/h'],
    ['OhmPerVolt', 'Ω/V'],
    ['Millimetre2', 'mm²'],
    ['Millimetre', 'mm'],
    ['Centimetre', 'cm'],
  ] as const),
  ...([
    ['Megapascal', 'MPa'],
    ['Microfarad', 'µF'],
    ['Milliohm', 'mΩ'],
    ['Milliohms', 'mΩ'],
    ['Ohm', 'Ω'],
    ['Millivolt', 'mV'],
    ['Volts', 'V'],
    ['Volt', 'V'],
  ] as const),
  ...([
    ['AmpereHourDrawn', 'drawn, Ah'],
    ['AmpereHour', 'Ah'],
    ['Ampere', 'A'],
    ['WattHour', 'Wh'],
    ['Ah', 'Ah'],
    ['Joule', 'J'],
  ] as const),
  ...([
    ['Millisecond', 'ms'],
    ['Seconds', 's'],
    ['Second', 's'],
    ['Minute', 'min'],
    ['Hours', 'h'],
    ['Hour', 'h'],
    ['Month', 'months'],
    ['Kilometre', 'km'],
  ] as const),
  ...([
    ['Kilogram', 'kg'],
    ['Percent', '%'],
    ['Degree', '°'],
    ['Celsius', '°C'],
    ['Newton', 'N'],
  ] as const),
];

/** A field's name in words, its unit set apart: `wantedNewtonMetre` is "wanted" in N·m. */
export function nameOf(key: string): { readonly words: string; readonly unit: string } {
  const [, span, rest] = /^(seconds|months)([A-Z].*)$/.exec(key) ?? [];
  if (span !== undefined && rest !== undefined)
    return { words: `time ${inWords(rest.charAt(0).toLowerCase() + rest.slice(1))}`, unit: span === 'seconds' ? 's' : 'months' };
  for (const [suffix, unit] of UNITS) {
    const lower = suffix.charAt(0).toLowerCase() + suffix.slice(1);
    if (key === lower) return { words: inWords(key), unit };
    if (key.endsWith(suffix)) return { words: inWords(key.slice(0, -suffix.length)), unit };
  }
  return { words: inWords(key), unit: '' };
}

/** The place of a field as a person reads it: `pool › 3 › capacity, Ah`; rows count from 1. */
export function sayPath(path: readonly (string | number)[]): string {
  return path
    .map((part) => {
      if (typeof part === 'number') return String(part + 1);
      const { words, unit } = nameOf(part);
      return unit === '' ? words : `${words}, ${unit}`;
    })
    .join(' › ');
}

/** A name of the code as a person reads it: `twelveVoltFirst` is "twelve volt first". */
export function inWords(key: string): string {
  return key.replace(/([a-z0-9])([A-Z])/g, (_all, a: string, b: string) => `${a} ${b.toLowerCase()}`);
}

/** Numbers as typed or pasted, one or many: any white space or semicolon between them. Null: not all are numbers. */
export function readNumbers(text: string): number[] | null {
  const parts = text.split(/[\s;]+/).filter((p) => p !== '');
  const numbers = parts.map((p) => readDecimal(p));
  return numbers.every((n) => n.kind === 'answer') ? numbers.map((n) => n.value) : null;
}

/** Rows of numbers, one a line. Null: a line is not all numbers. */
export function readRows(text: string): number[][] | null {
  const rows = text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map(readNumbers);
  return rows.every((r) => r !== null) ? rows : null;
}
