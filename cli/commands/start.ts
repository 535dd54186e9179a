import { parseArgs } from 'node:util';
import type { Command } from '../command.ts';
import { startApplication } from '../start-application.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb start [--port N]

Starts the application with its demo data and prints its address. Ctrl-C stops all of it.

  --port   port on loopback, default 4310, or the next free one when it is taken

Environment: DATABASE_URL uses another PostgreSQL server; COBWEB_DATA moves the data folder
(default .cobweb in the project); PG_BIN names the folder of the PostgreSQL programs;
COBWEB_CALIBRATE=off leaves out measuring this machine at the first start (./cobweb calibrate does it).`;

const DEFAULT_PORT = 4310;

export const command: Command = {
  summary: 'start the application with its demo data',
  usage: USAGE,
  async run(args) {
    const { values } = parseArgs({ args, options: { port: { type: 'string' } } });
    const port = values.port === undefined ? DEFAULT_PORT : Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65_535)
      throw new UsageError(`--port ${values.port} is not a port.`);
    const application = await startApplication({
      port,
      mayMove: values.port === undefined,
      calibratesFirst: process.env.COBWEB_CALIBRATE !== 'off',
      say: console.log,
    });
    console.log(`\nCobweb is at ${application.address}\nCtrl-C stops it.`);
    await new Promise<void>((resolve) => {
      for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
    });
    console.log('\nstopping');
    await application.stop();
    return 0;
  },
};
