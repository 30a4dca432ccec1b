import { accessible } from "./axe.ts";
import { type Browser, expect, type Page, test } from "./house.ts";
import { advance, newPage } from "./person.ts";

const PASSWORD = "over-the-pass";

/** Signs in by mail address and password, in a browser of its own, at the name devices keep passkeys for. */
async function enter(browser: Browser, baseURL: string, who: string): Promise<Page> {
  const named = new URL(baseURL);
  named.hostname = "localhost";
  const page = await newPage(await browser.newContext({ baseURL: named.origin }));
  await page.goto("/sign-in?to=/me");
  await page.getByLabel("Mail address").fill(`${who}@fontelba.example`);
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await page.waitForURL("/me");
  return page;
}

/** Gives a page's browser a device that keeps passkeys and makes sure of its holder. */
async function device(page: Page) {
  const tools = await page.context().newCDPSession(page);
  await tools.send("WebAuthn.enable");
  const { authenticatorId } = await tools.send("WebAuthn.addVirtualAuthenticator", {
    options: {
      protocol: "ctap2",
      transport: "internal",
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  const verify = (isUserVerified: boolean) =>
    tools.send("WebAuthn.setUserVerified", { authenticatorId, isUserVerified });
  return { verify };
}

test("a passkey: added, signed in by, and taken away; recovery codes come with the first factor", async ({
  browser,
  baseURL,
}) => {
  const page = await enter(browser, baseURL ?? "", "wim");
  const { verify } = await device(page);
  const keys = page.getByRole("region", { name: "Passkeys" });
  await keys.getByLabel("What you call it").fill("Desk machine");
  await keys.getByRole("button", { name: "Add a passkey" }).click();
  await expect(keys.getByText("Desk machine")).toBeVisible();
  await expect(page.getByRole("list", { name: "Recovery codes" }).getByRole("listitem")).toHaveCount(10);
  const code = await page.getByRole("list", { name: "Recovery codes" }).getByRole("listitem").first().textContent();
  await keys.getByRole("button", { name: "Add a passkey" }).click();
  await expect(keys.getByText("This device keeps a passkey of yours already.")).toBeVisible();
  await accessible(page);
  const leave = async () => {
    await page.request.post("/sign-out", { headers: { origin: new URL(page.url()).origin } });
    await page.goto("/sign-in?to=/me");
  };
  await leave();
  await page.getByRole("button", { name: "Sign in with a passkey" }).click();
  await page.waitForURL("/me");
  await expect(keys.getByText(/last used/)).toBeVisible();
  // Holding the device is not enough: it must have made sure of its holder.
  await leave();
  await verify(false);
  await page.getByRole("button", { name: "Sign in with a passkey" }).click();
  await expect(page.getByRole("alert")).toContainText("gave no passkey");
  await accessible(page);
  await verify(true);
  // The password alone opens half a session; the passkey or a recovery code does the rest.
  await page.getByLabel("Mail address").fill("wim@fontelba.example");
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("heading", { name: "One thing more" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Sign in with a passkey" })).toBeVisible();
  await page.goto("/turn");
  await page.getByLabel("Code").fill(code ?? "");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await page.waitForURL("/turn");
  await page.goto("/me");
  await keys.getByRole("button", { name: "Take it away: Desk machine" }).click();
  await expect(keys.getByText("None yet.")).toBeVisible();
});

test("an act on access long after the password asks for it in place, and is then done", async ({
  browser,
  baseURL,
}) => {
  const page = await enter(browser, baseURL ?? "", "ilda");
  await advance(page, "PT31M");
  for (const [where, label, button] of [
    ["/people/groups", "A new group", "Make it"],
    ["/people/roles?do=new", "Name", "Make it"],
  ] as const) {
    await page.goto(where);
    await page.getByLabel(label).fill("Night desk");
    await page.getByRole("button", { name: button }).click();
    await expect(page.getByLabel("Your password")).toBeVisible();
    await expect(page.getByLabel(label)).toHaveValue("Night desk");
  }
  await page.goto("/people?do=invite");
  await page.getByLabel("Name", { exact: true }).fill("Odile Brandt");
  await page.getByLabel("Mail address").fill("odile@example.org");
  await page.getByRole("button", { name: "Send the invitation" }).click();
  const password = page.getByLabel("Your password");
  await expect(password).toBeFocused();
  await accessible(page);
  await password.fill("wrong");
  await password.press("Enter");
  await expect(page.getByText("That is not your present password.")).toBeVisible();
  await password.fill(PASSWORD);
  await password.press("Enter");
  await expect(page).toHaveURL(/\/people\/who\/odile/);
});
