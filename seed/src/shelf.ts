/** The shelf of the demonstration: one winter's count of the commonest modules, and a smaller one of every other type that is shipped. */
import { createGenerator, type Generator, type ModuleType, type StockModule } from '@estuarine/core';
import { hasCommand, keepShopAct, listShippedProfiles, readShippedProfile } from '@estuarine/server';
import type pg from 'pg';
import { makeModule, readVolt, round } from './modules.ts';

const SHELF = 400;
const USUAL_TYPE = 'nimh-6-prismatic';
const REST_HOURS = 14;
/** Of every other type as many as fill its pack, and some to choose from. */
const TO_CHOOSE_FROM = 12;
const OTHERS_SEED = 20_262;

/** Puts on the shelf what is not there yet: a release may add a count to a demonstration that stands. */
export async function seedShelf(pool: pg.Pool, shopId: string, generator: Generator, at: Date): Promise<void> {
  const shop = { pool, shopId, clock: () => at };
  const keep = async (
    commandId: string,
    by: string,
    role: 'technician' | 'lead',
    act: Parameters<typeof keepShopAct>[1]['act'],
  ): Promise<void> => {
    if (await hasCommand(pool, shopId, commandId)) return;
    await keepShopAct(shop, { commandId, by, deviceAt: at.toISOString(), act }, role);
  };
  const usual = (): StockModule[] => Array.from({ length: SHELF }, (_, i) => makeUsual(i, generator));
  // the jobs draw from the same generator after it: a shelf that stands is not drawn again
  if (!(await hasCommand(pool, shopId, 'demo-shelf')))
    await keep('demo-shelf', 'om', 'technician', {
      type: 'stock.imported',
      body: { fileName: 'winter-shelf-count.csv', modules: usual() },
    });
  await keep('demo-quarantine', 'ts', 'lead', {
    type: 'module.quarantined',
    body: { moduleId: 'S042', reason: 'Case bulged; wait for the lead.' },
  });
  await keep('demo-shelf-others', 'om', 'technician', {
    type: 'stock.imported',
    body: { fileName: 'back-shelf-count.csv', modules: makeOthers() },
  });
}

function makeUsual(i: number, generator: Generator): StockModule {
  const roll = generator.next();
  const fault = roll < 0.03 ? 'leaks' : roll < 0.07 ? 'tired' : roll < 0.08 ? 'deadCell' : null;
  const module = makeModule(`S${String(i + 1).padStart(3, '0')}`, generator, fault ? { kind: fault } : null);
  const isTested = generator.next() > 0.04;
  return {
    moduleId: module.id,
    label: module.id,
    typeId: USUAL_TYPE,
    capacityAh: isTested ? round(module.capacityAh, 2) : null,
    resistanceMilliohm: isTested ? round(module.milliohm, 1) : null,
    restDropMillivolt: isTested ? round(module.leakMillivoltPerHour * REST_HOURS, 0) : null,
    ocvVolt: readVolt(module, generator, REST_HOURS),
    bin: `Rack ${String.fromCharCode(65 + Math.floor(i / 100))} tray ${1 + (Math.floor(i / 10) % 10)}`,
  };
}

/** Of each other type, worn a little; a generator of its own, so that the figures of all else stay as they are. */
function makeOthers(): StockModule[] {
  const generator = createGenerator(OTHERS_SEED);
  const wanted = new Map<string, { readonly type: ModuleType; readonly count: number }>();
  for (const { moduleType, moduleCount } of listShippedProfiles().map(readShippedProfile))
    if (moduleType.id !== USUAL_TYPE) wanted.set(moduleType.id, { type: moduleType, count: moduleCount + TO_CHOOSE_FROM });
  return [...wanted.values()].flatMap(({ type, count }, rack) =>
    Array.from({ length: count }, (_, i): StockModule => {
      const id = `${String.fromCharCode(84 + rack)}${String(i + 1).padStart(2, '0')}`;
      return {
        ...{ moduleId: id, label: id, typeId: type.id },
        capacityAh: round(type.nominalCapacityAh * generator.normal(0.88, 0.03), 2),
        resistanceMilliohm: round(type.typicalMilliohm * generator.normal(1.03, 0.03), 1),
        restDropMillivolt: round(Math.max(2, generator.normal(type.chemistry === 'nimh' ? 21 : 4, 2)), 0),
        ocvVolt: round(type.nominalVolt * generator.normal(1.05, 0.001), 3),
        bin: `Back shelf ${1 + rack}, ${1 + Math.floor(i / 12)}`,
      };
    }),
  );
}
