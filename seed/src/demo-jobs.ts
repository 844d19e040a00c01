/** The jobs of the demonstration, all invented: vehicles, what is wrong with their packs, and how far each is. */
import type { Customer, JobKind, UseNote } from '@estuarine/core';
import type { Fault } from './modules.ts';

/** A job of the demonstration: whose it is, and how far it goes. */
export interface DemoJob {
  readonly id: string;
  readonly kind?: JobKind;
  readonly customer?: Customer;
  readonly number: number;
  readonly vehicle: { name: string; plate: string; odometerKilometre: number; note: string };
  /** How it is used, where intake asked. */
  readonly use?: UseNote;
  /** Hours before now at which it was opened. */
  readonly hoursAgo: number;
  readonly profileId: string;
  readonly faults: Readonly<Record<number, Fault['kind']>>;
  readonly reaches:
    | 'fresh'
    | 'draining'
    | 'stripping'
    | 'halfTested'
    | 'tested'
    | 'matched'
    | 'stacking'
    | 'tightening'
    | 'fouled'
    | 'waking'
    | 'driven'
    | 'closed'
    | 'returned';
  /** The earlier job that it comes back from. */
  readonly comebackOf?: string;
  /** Its middle ran hot for years: capacity is lost with the heat of each place. */
  readonly isCooked?: boolean;
}

/** Intake's word on a vehicle that could not be scanned as it came, or is scanned later in its story. */
function usedFor(uses: UseNote['uses'], noScan = 'Came on a trailer with its 12 V flat.'): UseNote {
  return { uses, lookedUp: '', noScan };
}

/** In the order in which they are made: the figures of each hang on those before it. */
export const DEMO_JOBS: readonly DemoJob[] = [
  {
    id: 'demo-sanderling',
    profileId: 'dunlin-28',
    number: 1,
    vehicle: {
      name: 'Dunlin harbour bus',
      plate: 'TI 114',
      odometerKilometre: 212_400,
      note: 'Loses power on the causeway; battery warning since the spring tide.',
    },
    use: usedFor(['hills', 'stopAndGo']),
    hoursAgo: 72,
    faults: { 6: 'leaks', 19: 'tired' },
    reaches: 'matched',
  },
  {
    id: 'demo-turnstone',
    profileId: 'turnstone-30',
    number: 2,
    vehicle: {
      name: 'Turnstone post van',
      plate: 'TI 087',
      odometerKilometre: 168_950,
      note: 'Fan runs at once after start. One block low in the scan.',
    },
    use: usedFor(['dust', 'stopAndGo']),
    hoursAgo: 48,
    faults: { 17: 'leaks', 5: 'tired' },
    reaches: 'tested',
  },
  {
    id: 'demo-knot',
    profileId: 'whimbrel-34',
    number: 3,
    vehicle: { name: 'Whimbrel school bus', plate: 'TI 031', odometerKilometre: 240_120, note: 'Stood all winter in the boat shed.' },
    use: usedFor(['children', 'longParking']),
    hoursAgo: 20,
    faults: { 9: 'deadCell' },
    reaches: 'halfTested',
  },
  {
    id: 'demo-curlew',
    profileId: 'curlew-42',
    number: 4,
    vehicle: { name: 'Curlew ferry tender', plate: 'TI 122', odometerKilometre: 96_300, note: 'In for its yearly battery check.' },
    use: usedFor([]),
    hoursAgo: 0.2,
    faults: {},
    reaches: 'draining',
  },
  {
    id: 'demo-plover',
    profileId: 'greenshank-28',
    number: 5,
    vehicle: {
      name: 'Greenshank market car',
      plate: 'TI 055',
      odometerKilometre: 187_700,
      note: 'Clunk from under the seat at key off, then a warning.',
    },
    hoursAgo: 3,
    faults: {},
    reaches: 'fresh',
  },
  {
    id: 'demo-avocet',
    profileId: 'avocet-12',
    number: 6,
    vehicle: { name: 'Avocet nurse’s car', plate: 'TI 140', odometerKilometre: 74_150, note: 'Fan loud after long climbs.' },
    use: usedFor(['hills']),
    hoursAgo: 5,
    faults: {},
    reaches: 'stripping',
  },
  {
    id: 'demo-godwit',
    profileId: 'godwit-24',
    number: 7,
    vehicle: {
      name: 'Godwit co-op car',
      plate: 'TI 161',
      odometerKilometre: 51_900,
      note: 'Both filters due; range shorter since winter.',
    },
    kind: 'filterService',
    customer: { name: 'Brine & Daughters', contact: 'note left at the slip office' },
    hoursAgo: 6,
    faults: {},
    reaches: 'fresh',
  },
  {
    id: 'demo-spoonbill',
    profileId: 'spoonbill-16',
    number: 8,
    vehicle: { name: 'Spoonbill island bus', plate: 'TI 170', odometerKilometre: 33_480, note: 'One cell voltage apart in the scan.' },
    hoursAgo: 8,
    faults: {},
    reaches: 'fresh',
  },
  {
    id: 'demo-redshank',
    profileId: 'dunlin-28',
    number: 9,
    vehicle: {
      name: 'Dunlin island doctor',
      plate: 'TI 177',
      odometerKilometre: 143_300,
      note: 'Warning back after two months; one block low.',
    },
    use: usedFor(['pets']),
    hoursAgo: 30,
    faults: { 11: 'tired' },
    reaches: 'tightening',
  },
  {
    id: 'demo-lapwing',
    profileId: 'dunlin-28',
    number: 10,
    vehicle: { name: 'Dunlin library van', plate: 'TI 182', odometerKilometre: 198_700, note: 'Stalls at the jetty ramp.' },
    use: usedFor(['hills', 'luggage']),
    hoursAgo: 28,
    faults: { 22: 'leaks' },
    reaches: 'stacking',
  },
  {
    id: 'demo-dunnock',
    profileId: 'dunlin-28',
    number: 11,
    vehicle: {
      name: 'Dunlin quay taxi',
      plate: 'TI 190',
      odometerKilometre: 231_500,
      note: 'Fan howls on the hill; two dogs travel in the back.',
    },
    use: usedFor(['pets', 'hills']),
    hoursAgo: 34,
    faults: {},
    reaches: 'fouled',
    isCooked: true,
  },
  {
    id: 'demo-bittern',
    profileId: 'dunlin-28',
    number: 12,
    vehicle: {
      name: 'Dunlin bakery van',
      plate: 'TI 203',
      odometerKilometre: 221_800,
      note: 'Another pack bought; stood for three weeks.',
    },
    kind: 'exchange',
    use: usedFor(['longParking']),
    hoursAgo: 4,
    faults: {},
    reaches: 'waking',
  },
  {
    id: 'demo-whinchat',
    profileId: 'greenshank-28',
    number: 13,
    vehicle: {
      name: 'Greenshank pilot car',
      plate: 'TI 208',
      odometerKilometre: 176_250,
      note: 'Another pack bought after one block fell away.',
    },
    kind: 'exchange',
    use: usedFor(['stopAndGo']),
    hoursAgo: 7,
    faults: {},
    reaches: 'driven',
  },
  {
    id: 'demo-oystercatcher',
    profileId: 'dunlin-28',
    number: 14,
    vehicle: {
      name: 'Dunlin causeway bus',
      plate: 'TI 211',
      odometerKilometre: 204_600,
      note: 'Hot on the hill, then no power; two dogs travel in the back.',
    },
    customer: { name: 'Lise Marram', contact: 'at the ferry kiosk' },
    use: usedFor(['pets', 'hills']),
    hoursAgo: 92,
    faults: { 13: 'tired' },
    reaches: 'closed',
    isCooked: true,
  },
  {
    id: 'demo-sandpiper',
    profileId: 'dunlin-28',
    number: 15,
    vehicle: {
      name: 'Dunlin causeway bus',
      plate: 'TI 211',
      odometerKilometre: 204_990,
      note: 'Back after three days: the light is on again.',
    },
    hoursAgo: 2,
    faults: {},
    reaches: 'returned',
    comebackOf: 'demo-oystercatcher',
  },
];
