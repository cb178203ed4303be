import type { Game } from '../game.ts';
import { loader } from './loader.ts';
import { spec } from './spec.ts';

export const tollbarge: Game = { spec, loader };
