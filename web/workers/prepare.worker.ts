import { expose } from 'comlink';
import { PrepareLoop } from './prepare-loop.ts';

expose(new PrepareLoop());
