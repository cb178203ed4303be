import type { Game } from '../game.ts';
import { loader } from './loader.ts';
import { spec } from './spec.ts';
import { spec1 } from './spec1.ts';

export const longhaul: Game = { spec, earlier: [spec1], loader };
