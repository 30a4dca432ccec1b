import { readConfig } from "./config.ts";

const LEAST = { DATABASE_URL: "mysql://root@127.0.0.1:3306/elenco", SESSION_SECRET: "s".repeat(32) };

const { exit } = process;
const { error } = console;
let said: string[];
beforeEach(() => {
  said = [];
  console.error = (sentence: string) => void said.push(sentence);
  process.exit = (code) => {
    throw new Error(`ended with ${code}`);
  };
});
afterEach(() => {
  console.error = error;
  process.exit = exit;
});

test("with the least that is needed everything else is as it is told", () => {
  expect(readConfig(LEAST)).toEqual({
    ...LEAST,
    PORT: 4300,
    HOST: "127.0.0.1",
    MAIL_IN_HOST: "127.0.0.1",
    ELENCO_DATA_DIR: ".data",
    ELENCO_STANDINS: false,
    TRUST_PROXY: [],
    LOG_LEVEL: "info",
    baseUrl: "http://127.0.0.1:4300",
  });
});

test.each<[given: Record<string, string>, read: object]>([
  [
    { PORT: "80", HOST: "0.0.0.0" },
    { PORT: 80, baseUrl: "http://0.0.0.0:80" },
  ],
  [{ PORT: "" }, { PORT: 4300 }],
  [{ ELENCO_URL: "https://desk.fontelba.example/" }, { baseUrl: "https://desk.fontelba.example" }],
  [{ MAIL_IN_PORT: "0" }, { MAIL_IN_PORT: 0 }],
  [{ SMTP_URL: "smtps://post.fontelba.example:465" }, { SMTP_URL: "smtps://post.fontelba.example:465" }],
  [{ ELENCO_STANDINS: "false" }, { ELENCO_STANDINS: false }],
  [{ ELENCO_STANDINS: "true", SMTP_URL: "smtp://localhost:25" }, { ELENCO_STANDINS: true }],
  [{ ELENCO_STANDINS: "true", HOST: "::1" }, { HOST: "::1" }],
  [{ TRUST_PROXY: "loopback, 10.0.0.0/8 fd00::/8" }, { TRUST_PROXY: ["loopback", "10.0.0.0/8", "fd00::/8"] }],
])("%j is read as %j", (given, read) => expect(readConfig({ ...LEAST, ...given })).toMatchObject(read));

test.each<[given: Record<string, string>, sentence: RegExp]>([
  [{ DATABASE_URL: "" }, /^DATABASE_URL is missing$/],
  [{ SESSION_SECRET: "" }, /^SESSION_SECRET is missing$/],
  [{ SESSION_SECRET: "short" }, /^SESSION_SECRET is not usable: at least 32 characters$/],
  [{ DATABASE_URL: "postgres://db/elenco" }, /^DATABASE_URL is not usable: /],
  [{ PORT: "0" }, /^PORT is not usable: /],
  [{ PORT: "http" }, /^PORT is not usable: /],
  [{ PORT: "65536" }, /^PORT is not usable: /],
  [{ MAIL_IN_PORT: "-1" }, /^MAIL_IN_PORT is not usable: /],
  [{ SMTP_URL: "http://post.fontelba.example" }, /^SMTP_URL is not usable: /],
  [{ ELENCO_URL: "ftp://desk.fontelba.example" }, /^ELENCO_URL is not usable: /],
  [{ TRUST_PROXY: "everybody" }, /^TRUST_PROXY is not usable: addresses and networks/],
  [{ TRUST_PROXY: "10.0.0.0/99" }, /^TRUST_PROXY is not usable: /],
  [{ ELENCO_STANDINS: "perhaps" }, /^ELENCO_STANDINS is not usable: /],
  [{ LOG_LEVEL: "loud" }, /^LOG_LEVEL is not usable: /],
])("%j ends the process with one line and exit code 2", (given, sentence) => {
  expect(() => readConfig({ ...LEAST, ...given })).toThrow("ended with 2");
  expect(said).toEqual([expect.stringMatching(sentence)]);
});

test.each<[what: string, given: Record<string, string>]>([
  ["HOST", { HOST: "0.0.0.0" }],
  ["HOST", { HOST: "desk.fontelba.example" }],
  ["MAIL_IN_HOST", { MAIL_IN_HOST: "10.0.0.3" }],
  ["DATABASE_URL", { DATABASE_URL: "mysql://root@db.fontelba.example/elenco" }],
  ["SMTP_URL", { SMTP_URL: "smtp://post.fontelba.example" }],
])("with the stand-ins on, %s may not lead beyond this machine: %j", (what, given) => {
  expect(readConfig({ ...LEAST, ...given })).toMatchObject(given);
  expect(() => readConfig({ ...LEAST, ...given, ELENCO_STANDINS: "true" })).toThrow("ended with 2");
  expect(said).toEqual([expect.stringContaining(`${what} is not loopback`)]);
});
