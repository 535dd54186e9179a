import { CalmMachine } from './calm-machine.ts';

/** For every test in a browser, in whichever file. */
const calm = new CalmMachine();

beforeEach('wait for a calm machine', async () => {
  const waited = await calm.wait();
  if (waited > 1000)
    console.log(`    waited ${Math.round(waited / 1000)} s for the host to give the processors back`);
});

after(() => calm.end());
