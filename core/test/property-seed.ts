import fc from 'fast-check';

// Properties try the same cases at each run of the tests, so that a run says something about the change it is run for.
// `npm run properties` tries others, seed after seed.

const SEED = 20_261_129;

fc.configureGlobal({ seed: Number(process.env.PROPERTY_SEED ?? SEED) });
