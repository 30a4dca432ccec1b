import { DrizzleQueryError } from "drizzle-orm/errors";
import { failedStatement } from "../db/client.ts";
import { loggedPath } from "./log.ts";

test.each([
  ["/pieces/a", "/pieces/a"],
  ["/open/s3cret", "/open/…"],
  ["/open/s3cret.data", "/open/…"],
  ["/OPEN/s3cret", "/open/…"],
  ["//guest//s3cret/files/a", "/guest/…"],
  ["/%6Fpen/s3cret", "/open/…"],
  ["/op%65n%2Fs3cret", "/open/…"],
  ["/calendar/s3cret.ics", "/calendar/…"],
  ["/\\first\\s3cret", "/first/…"],
  ["/open/%E0%A4%A", "(unreadable)"],
  ["/opening/a", "/opening/a"],
  ["/asked/s3cret", "/asked/…"],
  ["/asked", "/asked/…"],
  ["/ask/tip", "/ask/tip"],
  ["/pieces?words=s3cret", "/pieces"],
  ["/pieces#s3cret", "/pieces"],
  ["/open?to=/s3cret", "/open/…"],
  ["http://desk.example/open/s3cret", "/open/…"],
  ["HTTPS://desk.example:4300/guest/s3cret?a=b", "/guest/…"],
  ["http://desk.example\\open\\s3cret", "/open/…"],
  ["http://desk.example", ""],
  ["*", "*"],
])("the path %s is logged as %s", (path, logged) => {
  expect(loggedPath(path)).toBe(logged);
});

test("a failed query is told by its code and its statement, without a value", () => {
  const driver = Object.assign(new Error("Duplicate entry 's3cret' for key 'email'"), {
    code: "ER_DUP_ENTRY",
    errno: 1062,
    sqlState: "23000",
    sql: "INSERT INTO `person` VALUES ('s3cret', 'it''s', 'a\\'b')",
  });
  const bound = new DrizzleQueryError("select * from `person` where `email` = ?", ["s3cret"], driver);
  expect(failedStatement(bound)).toEqual({
    type: "query",
    code: "ER_DUP_ENTRY",
    errno: 1062,
    sqlState: "23000",
    statement: "select * from `person` where `email` = ?",
  });
  expect(failedStatement(driver)).toMatchObject({ statement: "INSERT INTO `person` VALUES (?, ?, ?)" });
  expect(failedStatement(new Error("no", { cause: bound }))).toMatchObject({ errno: 1062 });
  expect(failedStatement(new Error("something else"))).toBeNull();
});
