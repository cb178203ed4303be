/** What the tests use of it; it comes without types. */
declare module 's3rver' {
  export default class S3rver {
    constructor(options: {
      address: string;
      port: number;
      silent: boolean;
      directory: string;
      configureBuckets: { name: string }[];
    });
    run(): Promise<{ address: string; port: number }>;
    close(): Promise<void>;
  }
}
