import { expose } from 'comlink';
import { BodyFiguresLoop } from './body-figures-loop.ts';

expose(new BodyFiguresLoop());
