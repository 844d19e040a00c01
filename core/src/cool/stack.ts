/**
 * Air and modules along a stack: gaps between the modules side by side on the same air, each warmed by the modules at its walls. Energy
 * balance with the exact warming of a channel (effectiveness 1 - exp(-NTU); handbooks of heat transfer), conduction between neighbours,
 * and a little of the outer modules' heat into the case.
 */
import { answer, refuse, type Result } from '../result.ts';
import { findAirflow } from './airflow.ts';

export interface CoolStackInput {
  readonly modules: number;
  readonly wattsPerModule: number;
  readonly airflowCubicMetrePerHour: number;
  readonly blockedShare: number;
  readonly inletCelsius: number;
  readonly freeFlowCubicMetrePerHour?: number | undefined;
  /** Of the heat of the first and of the last module, what the case takes. */
  readonly edgeShare?: number | undefined;
  /** How much of the heat each place has, against the mean; alike where left out. */
  readonly weights?: readonly number[] | undefined;
  /** What the air passes, in its order; what gives heat says how much. Without it the air comes straight to the modules. */
  readonly airPath?:
    readonly { readonly kind: string; readonly name?: string | undefined; readonly watt?: number | undefined }[] | undefined;
}

export interface CoolStack {
  /** Place 1 first. */
  readonly moduleCelsius: readonly number[];
  /** Of all gaps mixed, behind the modules. */
  readonly outletCelsius: number;
  readonly airflowCubicMetrePerHour: number;
  /** Heat that the air does not take. */
  readonly caseWatt: number;
  /** Behind each part of the air path. */
  readonly pathCelsius: readonly { readonly kind: string; readonly name: string; readonly celsius: number }[];
}

/** Air at 20 °C: 1.2 kg/m³ and 1006 J/(kg K); watt for each kelvin and m³/h. */
export const AIR_WATT_PER_KELVIN = (1.2 * 1006) / 3600;
/**
 * From one wall of a module to the air of its gap, W/K: laminar air between plates some 3 mm apart (Nusselt number 7.54) on some 300 cm².
 * Common practice, no source.
 */
const FILM_WATT_PER_KELVIN = 1;
/** From a module to its neighbour, W/K, through nubs and frame; common practice, no source. */
const NEIGHBOUR_WATT_PER_KELVIN = 0.2;
const EDGE_SHARE = 0.02;
const MOST_MODULES = 400;

/** Refusals: `impossible` for what no stack can be, with the field. */
export function findCoolStack(input: CoolStackInput): Result<CoolStack> {
  const { modules, wattsPerModule, inletCelsius, edgeShare = EDGE_SHARE, weights, airPath = [{ kind: 'cells' }] } = input;
  if (!Number.isInteger(modules) || modules < 1 || modules > MOST_MODULES)
    return refuse('impossible', `A whole number of modules from 1 to ${MOST_MODULES}, ${modules} came.`, ['modules']);
  if (!(wattsPerModule >= 0)) return refuse('impossible', `Heat cannot be below zero, ${wattsPerModule} W came.`, ['wattsPerModule']);
  if (!(edgeShare >= 0 && edgeShare <= 1)) return refuse('impossible', `A share from 0 to 1, ${edgeShare} came.`, ['edgeShare']);
  if (!Number.isFinite(inletCelsius) || inletCelsius < -273.15)
    return refuse('impossible', `${inletCelsius} °C cannot be.`, ['inletCelsius']);
  if (weights && (weights.length !== modules || weights.some((w) => !(w > 0))))
    return refuse('mismatch', `${modules} weights above zero are needed, one a module.`, ['weights']);
  const cells = airPath.filter((p) => p.kind === 'cells').length;
  if (cells !== 1) return refuse('mismatch', `The air passes the modules once, this path has them ${cells} times.`, ['airPath']);
  const flow = findAirflow(input);
  if (flow.kind === 'refused') return flow;
  const perKelvin = AIR_WATT_PER_KELVIN * flow.value;
  const mean = weights ? weights.reduce((sum, w) => sum + w, 0) / modules : 1;
  const heats = Array.from(
    { length: modules },
    (_, i) => ((wattsPerModule * (weights?.[i] ?? 1)) / mean) * (1 - edgeShare * (Number(i === 0) + Number(i === modules - 1))),
  );
  const caseWatt = modules * wattsPerModule - heats.reduce((sum, w) => sum + w, 0);
  let air = inletCelsius;
  let [moduleCelsius, outletCelsius]: [number[], number] = [[], air];
  const pathCelsius = airPath.map(({ kind, name = kind, watt = 0 }) => {
    if (kind === 'cells') {
      moduleCelsius = warmModules(heats, perKelvin, air);
      air += heats.reduce((sum, w) => sum + w, 0) / perKelvin;
      outletCelsius = air;
    }
    air += watt / perKelvin;
    return { kind, name, celsius: air };
  });
  return answer({ moduleCelsius, outletCelsius, airflowCubicMetrePerHour: flow.value, caseWatt, pathCelsius });
}

/** The temperature of each module, from what each gives to the air of its two gaps and to its neighbours. */
function warmModules(heats: readonly number[], perKelvin: number, inlet: number): number[] {
  const count = heats.length;
  const gap = perKelvin / (count + 1);
  // above the inlet: a gap with walls on n sides takes m (1 - exp(-n h/m)) of the mean of its walls, and each wall gives h (T - air)
  const taken = (walls: number): number => gap * -Math.expm1((-walls * FILM_WATT_PER_KELVIN) / gap);
  const [outer, inner] = [taken(1), taken(2) / 2];
  // the mean air of an inner gap hangs on both walls: what a wall gives by its own and by the other's temperature
  const own = FILM_WATT_PER_KELVIN / 2 + inner / 2;
  const other = FILM_WATT_PER_KELVIN / 2 - inner / 2;
  const diagonal = heats.map((_, i) => {
    const sides = [i === 0, i === count - 1].map((isEnd) => (isEnd ? outer : own + NEIGHBOUR_WATT_PER_KELVIN));
    return sides.reduce((sum, s) => sum + s, 0);
  });
  const coupling = other + NEIGHBOUR_WATT_PER_KELVIN;
  return solveChain(diagonal, coupling, heats).map((rise) => inlet + rise);
}

/** A chain in which each is coupled to its neighbours alike: the tridiagonal equations by forward elimination (L. H. Thomas 1949). */
function solveChain(diagonal: readonly number[], coupling: number, right: readonly number[]): number[] {
  const [upper, values]: [number[], number[]] = [[], []];
  for (const [i, d] of diagonal.entries()) {
    const pivot = d - (i > 0 ? coupling * (upper[i - 1] ?? 0) : 0);
    upper.push(coupling / pivot);
    values.push(((right[i] ?? 0) + (i > 0 ? coupling * (values[i - 1] ?? 0) : 0)) / pivot);
  }
  for (let i = values.length - 2; i >= 0; i--) values[i] = (values[i] ?? 0) + (upper[i] ?? 0) * (values[i + 1] ?? 0);
  return values;
}
