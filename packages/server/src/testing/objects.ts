/** A small object store (s3rver of the npm registry) in a folder of its own, for tests. */
import { existsSync, mkdtempSync, readdirSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import S3rver from 's3rver';

export interface Bucket {
  /** Settings of a server that keeps its blobs there. */
  env: Record<string, string>;
  /** Where an object's bytes lie on the disk. */
  fileOf(hash: string): string;
  /** Names of all objects. */
  names(): string[];
  stop(): Promise<void>;
  start(): Promise<void>;
}

export async function startBucket(): Promise<Bucket> {
  const directory = mkdtempSync(path.join(os.tmpdir(), 'wl-objects-'));
  const options = { address: '127.0.0.1', silent: true, directory, configureBuckets: [{ name: 'paint' }] };
  let server = new S3rver({ ...options, port: 0 });
  const { port } = await server.run();
  const folder = path.join(directory, 'paint/blobs');
  const ending = '._S3rver_object';
  return {
    env: {
      WET_LACQUER_BLOBS: 's3://paint/blobs',
      AWS_ENDPOINT_URL_S3: `http://127.0.0.1:${port}`,
      AWS_REGION: 'us-east-1',
      // The two words that this server knows.
      AWS_ACCESS_KEY_ID: 'S3RVER',
      AWS_SECRET_ACCESS_KEY: 'S3RVER',
    },
    fileOf: (hash) => path.join(folder, hash + ending),
    names: () =>
      (existsSync(folder) ? readdirSync(folder) : []).flatMap((name) =>
        name.endsWith(ending) ? [name.slice(0, -ending.length)] : [],
      ),
    stop: () => server.close(),
    start: async () => {
      server = new S3rver({ ...options, port });
      await server.run();
    },
  };
}
