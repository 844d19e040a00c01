/** The demonstration's data: all of it, or its people and gear alone, which the server's own specs begin with. */
export { seedDemo } from './demo.ts';
export { seedPeopleAndGear } from './people-and-gear.ts';
