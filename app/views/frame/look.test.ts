import { lookIn } from "./look.ts";

test.each<[string | null, string, string]>([
  [null, "system", "close"],
  ["", "system", "close"],
  ["elenco=abc; elenco-look=dark.roomy", "dark", "roomy"],
  ["elenco-look=light.close; elenco=abc", "light", "close"],
  ["elenco-look=dark", "dark", "close"],
  ["elenco-look=.roomy", "system", "roomy"],
  ["elenco-look=pink.wide", "system", "close"],
  ['elenco-look=dark"><script>.roomy', "dark", "close"],
  ["elenco-look=constructor.toString", "system", "close"],
])("cookies %j: %s, %s", (cookies, theme, density) => expect(lookIn(cookies)).toEqual({ theme, density }));
