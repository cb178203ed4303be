import { useParams } from 'react-router';

/** A part of the address that the route names. @throws Error when the route has no such part */
export function useRouteParam(name: string): string {
  const value = useParams()[name];
  if (value === undefined) throw new Error(`This route has no "${name}".`);
  return value;
}
