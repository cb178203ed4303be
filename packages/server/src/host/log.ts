import pino from 'pino';

/** Log of the process: one JSON line an event, on stderr, so that stdout stays for what a person reads. */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' }, pino.destination(2));
