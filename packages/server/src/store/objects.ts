/**
 * An object store that speaks S3, for the bytes of blobs; its address, region and keys are the official SDK's own settings
 * (AWS_ENDPOINT_URL_S3, AWS_REGION, AWS_ACCESS_KEY_ID, AWS_SECRET_ACCESS_KEY). Every object lies under the SHA-256 of its bytes.
 */
import type { S3Client } from '@aws-sdk/client-s3';
import { hashOf } from '@wet-lacquer/node/hash.ts';

/** Bytes from `from` to `to`, both included, as HTTP says it. */
export interface ByteRange {
  from: number;
  to: number;
}

export interface StoredObject {
  hash: string;
  changedAt: Date;
}

export interface ObjectStore {
  put(hash: string, bytes: Uint8Array): Promise<void>;
  /** @throws Error when it is not there, or is not what its name says */
  get(hash: string, range?: ByteRange): Promise<Uint8Array<ArrayBuffer>>;
  remove(hash: string): Promise<void>;
  /** All there are, a page at a time. */
  pages(): AsyncIterable<StoredObject[]>;
}

/** How long an answer is waited for. */
const CONNECT_MS = 5000;
const ANSWER_MS = 60_000;
const HASH = /^[0-9a-f]{64}$/;

let current: ObjectStore | null = null;

/** Where the bytes of new blobs go; null: into the database. */
export const objectStore = (): ObjectStore | null => current;

/**
 * Says for the whole process where bytes of blobs are besides the database. The SDK is read by whoever has such a store alone.
 * @param address as in s3://bucket or s3://bucket/folder; nothing: the database has everything
 * @throws Error when it is no such address
 */
export async function keepBlobsIn(address: string | undefined): Promise<void> {
  current = address ? await openStore(address) : null;
}

async function openStore(address: string): Promise<ObjectStore> {
  const [, bucket, folder = ''] = /^s3:\/\/([a-z0-9][a-z0-9.-]{1,61}[a-z0-9])(?:\/(.*?))?\/?$/.exec(address) ?? [];
  if (!bucket) throw new Error(`WET_LACQUER_BLOBS=${address} is no address: say it as in s3://bucket/folder.`);
  const sdk = await import('@aws-sdk/client-s3');
  const own = Boolean(process.env.AWS_ENDPOINT_URL_S3 ?? process.env.AWS_ENDPOINT_URL);
  const client: S3Client = new sdk.S3Client({
    // A store at an address of its own seldom has names for its buckets.
    forcePathStyle: own,
    maxAttempts: 3,
    requestHandler: { connectionTimeout: CONNECT_MS, requestTimeout: ANSWER_MS, throwOnRequestTimeout: true },
    // The key is the checksum.
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
  });
  const prefix = folder && `${folder}/`;
  const at = (hash: string) => ({ Bucket: bucket, Key: prefix + hash });
  return {
    put: async (hash, bytes) => {
      await told(client.send(new sdk.PutObjectCommand({ ...at(hash), Body: bytes, ContentLength: bytes.length })));
    },
    get: async (hash, range) => {
      const Range = range && `bytes=${range.from}-${range.to}`;
      const { Body, ContentRange } = await told(client.send(new sdk.GetObjectCommand({ ...at(hash), Range })));
      const bytes = new Uint8Array(await told(Body!.transformToByteArray()));
      // A store may send more than was asked for (RFC 9110, 14.2), and says from where on.
      const begin = Number(/^bytes (\d+)-/.exec(ContentRange ?? '')?.[1] ?? 0);
      const found = range ? bytes.slice(range.from - begin, range.to - begin + 1) : bytes;
      if (range ? found.length !== range.to - range.from + 1 : hashOf(bytes) !== hash)
        throw new Error(`The object store has other bytes under ${hash.slice(0, 12)}.`);
      return found;
    },
    remove: async (hash) => {
      await told(client.send(new sdk.DeleteObjectCommand(at(hash))));
    },
    async *pages() {
      for await (const page of sdk.paginateListObjectsV2({ client }, { Bucket: bucket, Prefix: prefix }))
        yield (page.Contents ?? []).flatMap(({ Key = '', LastModified }) => {
          const hash = Key.slice(prefix.length);
          return HASH.test(hash) && LastModified ? [{ hash, changedAt: LastModified }] : [];
        });
    },
  };
}

/** An object store that does not answer is like a database that does not: what was being done can be done again. */
async function told<T>(answer: Promise<T>): Promise<T> {
  try {
    return await answer;
  } catch (error) {
    const { name, $metadata } = error as { name?: string; $metadata?: { httpStatusCode?: number } };
    const away = name === 'TimeoutError' || ($metadata?.httpStatusCode ?? 0) >= 500;
    if (!away) throw error;
    throw Object.assign(new Error(`The object store does not answer: ${String(error)}`), { code: 'ETIMEDOUT' });
  }
}
