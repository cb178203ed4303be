import { customType, timestamp } from 'drizzle-orm/pg-core';

export const bytea = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });
export const created = () => timestamp({ withTimezone: true }).notNull().defaultNow();
