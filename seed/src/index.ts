export { seedDemo } from './demo.ts';
export { seedPeopleAndGear } from './people-and-gear.ts';
