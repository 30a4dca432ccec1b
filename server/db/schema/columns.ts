import { customType } from "drizzle-orm/mysql-core";
import { v7 } from "uuid";

/** What no key holds: asking for one with other characters finds none, where the database would refuse the question. */
const NO_KEY = "\u007f";
const asciiOf = (text: string) => text.replace(/[^\x20-\x7e]/g, NO_KEY);

/** A UUIDv7 as 36 letters: readable in a log, sorted by time, compared byte by byte. */
export const uuid = customType<{ data: string }>({
  toDriver: asciiOf,
  dataType: () => "char(36) character set ascii collate ascii_bin",
});

/** A new primary key. */
export const newId = () => v7();

/** A key or hash: ASCII, compared byte by byte. */
export const token = customType<{ data: string; config: { length: number } }>({
  toDriver: asciiOf,
  dataType: (config) => `varchar(${config?.length ?? 64}) character set ascii collate ascii_bin`,
});

/** Epoch milliseconds of an instant as the database writes it. */
export const instantOf = (text: string) => Date.parse(`${text.replace(" ", "T")}Z`);

/** An instant in UTC to the millisecond; epoch milliseconds in our code. */
export const instant = customType<{ data: number; driverData: string }>({
  dataType: () => "datetime(3)",
  toDriver: (at) => new Date(at).toISOString().replace("T", " ").replace("Z", ""),
  fromDriver: (text) => instantOf(String(text)),
});

/** JSON that is stored as text and parsed once. */
export const json = customType<{ data: unknown; driverData: string }>({
  dataType: () => "json",
  toDriver: (value) => JSON.stringify(value),
  fromDriver: (value) => (typeof value === "string" ? JSON.parse(value) : value),
});
