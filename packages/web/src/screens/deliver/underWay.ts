import type { DeliveryCard } from '@wet-lacquer/sync/answers.ts';

const UNDER_WAY: readonly DeliveryCard['state'][] = ['queued', 'encoding', 'publishing'];

/** Whether a delivery has not come to its end yet. */
export const isUnderWay = ({ state }: DeliveryCard): boolean => UNDER_WAY.includes(state);
