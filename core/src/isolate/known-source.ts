/** Between what a known source must read. */
import type { IsolationPolicy } from './policy.ts';

/** A proving unit reads within this share of what is written on it (common practice, no source). */
const PROVING_SHARE = 0.1;

/** @param outputVolt what is written on the proving unit; null: the 12 V battery, by the shop's policy */
export function knownRange(outputVolt: number | null, policy: IsolationPolicy): { readonly lowVolt: number; readonly highVolt: number } {
  if (outputVolt === null) return { lowVolt: policy.batteryLowVolt, highVolt: policy.batteryHighVolt };
  return { lowVolt: outputVolt * (1 - PROVING_SHARE), highVolt: outputVolt * (1 + PROVING_SHARE) };
}
