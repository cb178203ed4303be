import type { Game } from '../game.ts';
import { loader } from './loader.ts';
import { spec } from './spec.ts';

export const longhaul: Game = { spec, loader };
