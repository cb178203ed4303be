export interface Cluster {
  url(database: string): string;
  port: number;
  /** Where its files are. */
  folder: string;
  /** It was running already. */
  found: boolean;
  database(name: string): Promise<string>;
  alive(): Promise<boolean>;
  stop(): Promise<unknown>;
  kill(): void;
}
export function startPostgres(wanted: string, onPort?: number): Promise<Cluster>;
