/** Several people at one server: let in by links, passwords and passkeys; sharing, seen at once and taken back at once; who is here. */
import type { Browser, Page } from '@playwright/test';
import type { TestServer } from '../packages/server/src/testing/server.ts';
import { Client, firstToken } from '../packages/server/src/testing/client.ts';
import { add, expect, layerNames, saved, serverOf, test as base } from './fixture.ts';
import { lookOver, problems } from './seen.ts';

const test = base.extend<object, { server: TestServer; keeper: Client }>({
  server: serverOf({ demo: true, signIn: true }),
  /** The first account, made over the network; pages sign in by hand. */
  keeper: [
    async ({ server }, use) => {
      const keeper = new Client(server);
      await keeper.join(await firstToken(server), 'Keeper', 'lamp oil and rope');
      await use(keeper);
    },
    { scope: 'worker' },
  ],
});

const EMBER = 'Ember of the rescue';

async function signIn(page: Page, name: string, password = 'lamp oil and rope'): Promise<void> {
  await page.goto('/');
  await page.getByRole('textbox', { name: 'name' }).fill(name);
  await page.getByLabel('password').fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('button', { name: `You: ${name}` })).toBeVisible();
}

/** Somebody at a browser of their own. */
async function another(browser: Browser, server: TestServer): Promise<Page> {
  const context = await browser.newContext({ baseURL: server.url, viewport: { width: 1280, height: 800 } });
  await context.addInitScript(() => {
    localStorage.setItem('wet-lacquer/lead', 'away');
    localStorage.setItem('wet-lacquer/model-rests', 'yes');
  });
  return context.newPage();
}
async function joined(browser: Browser, server: TestServer, keeper: Client, name: string): Promise<Page> {
  const { body } = await keeper.ask<{ token: string }>('POST', '/invitations', { note: name });
  const page = await another(browser, server);
  await page.goto(`/invited#${body.token}`);
  await page.getByRole('textbox', { name: 'name' }).fill(name);
  await page.getByLabel('password').fill('lamp oil and rope');
  await page.getByRole('button', { name: 'Make the account' }).click();
  await expect(page.getByRole('button', { name: `You: ${name}` })).toBeVisible();
  // The token is in no address that is left behind.
  expect(page.url()).not.toContain(body.token);
  return page;
}
const more = async (page: Page, item: string) => {
  await page.getByRole('button', { name: `More for ${EMBER}` }).click();
  await page.getByRole('menuitem', { name: item }).click();
};
async function openEmber(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: new RegExp(EMBER) }).click();
  await expect(page.getByRole('tree')).toBeVisible();
}
async function share(page: Page, name: string, may: string): Promise<void> {
  await page.goto('/');
  await more(page, 'Share');
  const dialog = page.getByRole('dialog', { name: `Share ${EMBER}` });
  await dialog.getByRole('combobox', { name: 'who has it' }).click();
  await page.getByRole('option', { name: may }).click();
  await dialog.getByRole('textbox', { name: 'painter’s name' }).fill(name);
  await dialog.getByRole('button', { name: 'Share', exact: true }).click();
  await expect(dialog.getByRole('list', { name: 'Who has it' })).toContainText(`${name} ${may}`);
  await dialog.getByRole('button', { name: 'Close' }).click();
}

test('two people paint one livery: each sees who is there, what was done and by whom, and undoes their own', async ({
  page,
  browser,
  server,
  keeper,
}) => {
  await signIn(page, 'Keeper');
  const ada = await joined(browser, server, keeper, 'Ada');
  await ada.goto('/');
  await expect(ada.getByText('No livery yet')).toBeVisible();
  await share(page, 'Ada', 'may paint it');
  await ada.reload();
  await expect(ada.getByText('shared with you')).toBeVisible();
  for (const one of [page, ada]) await openEmber(one);
  const before = await layerNames(page);
  // What somebody has in hand is said quietly beside the name.
  await add(ada, 'Base', 'Solid');
  await expect(page.getByRole('list', { name: 'Also here' })).toContainText('Ada skin, Solid');
  await expect(ada.getByRole('list', { name: 'Also here' })).toContainText('Keeper');
  await expect(page.getByRole('treeitem')).toHaveCount(before.length + 1);
  await saved(ada);
  await add(page, 'Pattern', 'Stripe');
  await expect(ada.getByRole('treeitem')).toHaveCount(before.length + 2);
  await saved(page);
  await page.getByRole('button', { name: /^Saved, / }).click();
  await expect(page.getByRole('menuitem', { name: /^Add Solid.*Ada/ })).toBeVisible();
  await page.keyboard.press('Escape');
  // Ada's undo takes Ada's step, not the later one.
  await ada.keyboard.press('Control+z');
  await expect(page.getByRole('treeitem')).toHaveCount(before.length + 1);
  const after = await layerNames(page);
  expect([after.includes('Stripe'), after.filter((name) => name === 'Solid').length]).toEqual([
    true,
    before.filter((name) => name === 'Solid').length,
  ]);
  // One says something of a place, by keyboard; the other answers and ticks it off, and both see it at once.
  const notes = (one: Page) => one.getByRole('complementary', { name: 'Details' });
  await page.getByRole('tab', { name: 'Notes' }).click();
  await page.getByRole('button', { name: 'Pin a note' }).press('Enter');
  await page.keyboard.type('Is this the new red?');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('listitem', { name: 'Note 1' })).toContainText('you, today');
  await ada.getByRole('tab', { name: 'Notes 1' }).click();
  await expect(notes(ada)).toContainText('Is this the new red?');
  await expect(notes(ada)).toContainText('Keeper, today');
  await ada.getByRole('button', { name: 'Answer note 1' }).click();
  await ada.getByRole('textbox', { name: 'answer' }).fill('It is, since Tuesday.');
  await ada.getByRole('button', { name: 'Say it' }).click();
  await expect(notes(page)).toContainText('It is, since Tuesday.');
  await expect(page.getByRole('button', { name: 'Delete note 1' })).toHaveCount(0);
  await ada.getByRole('checkbox', { name: 'Tick off' }).click();
  await expect(notes(page).getByRole('listitem', { name: 'Note 1' })).toHaveCount(0);
  await page.getByRole('checkbox', { name: 'Show what is ticked off (1)' }).check();
  await expect(notes(page).getByRole('checkbox', { name: 'Ticked off by Ada' })).toBeChecked();
  await ada.goto('/');
  await expect(page.getByRole('list', { name: 'Also here' })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await saved(page);
  await ada.context().close();
});

test('what is taken back is gone from an open easel at once, and is not saved any more', async ({
  page,
  browser,
  server,
  keeper,
}) => {
  await signIn(page, 'Keeper');
  const bo = await joined(browser, server, keeper, 'Bo');
  await share(page, 'Bo', 'may paint it');
  await openEmber(bo);
  await more(page, 'Share');
  await page.getByRole('button', { name: 'Take it back from Bo' }).click();
  await expect(bo.getByText('not shared with you any more')).toBeVisible();
  await bo.goto('/');
  await expect(bo.getByText('No livery yet')).toBeVisible();
  await bo.context().close();
});

test('whoever has a link looks without an account, sees it change, and sees no more when it is taken back', async ({
  page,
  browser,
  server,
  keeper,
}) => {
  expect(keeper.cookies.size).toBe(1);
  await signIn(page, 'Keeper');
  await more(page, 'Share');
  const dialog = page.getByRole('dialog', { name: `Share ${EMBER}` });
  await dialog.getByRole('combobox', { name: 'who has it' }).click();
  await page.getByRole('option', { name: 'may look at it' }).click();
  await dialog.getByRole('button', { name: /^Make a link/ }).click();
  const link = await dialog.getByRole('textbox', { name: 'link' }).inputValue();
  const visitor = await another(browser, server);
  await visitor.goto(link);
  await expect(visitor.getByRole('heading', { name: EMBER })).toBeVisible();
  const picture = visitor.getByRole('img', { name: 'Sheet skin' });
  await expect
    .poll(() => picture.evaluate((img: HTMLImageElement) => img.complete && img.naturalWidth))
    .toBeGreaterThan(0);
  const was = await picture.getAttribute('src');
  expect(await problems(visitor)).toEqual([]);
  // There is no way on from here.
  await expect(visitor.getByRole('navigation', { name: 'Screens' }).getByRole('link')).toHaveCount(0);
  const inside = await visitor.evaluate(async () => (await fetch('/api/liveries')).status);
  expect(inside).toBe(403);
  await openEmber(page);
  await add(page, 'Base', 'Solid');
  await saved(page);
  await expect(picture).not.toHaveAttribute('src', was!);
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.goto('/');
  await more(page, 'Share');
  await dialog.getByRole('button', { name: 'Take this link back' }).first().click();
  await expect(visitor.getByRole('heading', { name: 'This is no longer shared with you' })).toBeVisible();
  await visitor.reload();
  await expect(visitor.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await visitor.goto(link);
  await expect(visitor.getByRole('alert')).toContainText('leads nowhere any more');
  await visitor.context().close();
});

test('a passkey of the browser’s own is made and signs in; so does a code, once; a wrong password says no more than that', async ({
  browser,
  server,
  keeper,
}) => {
  const page = await joined(browser, server, keeper, 'Cy');
  // Chromium's own authenticator, through its DevTools protocol.
  const devtools = await page.context().newCDPSession(page);
  await devtools.send('WebAuthn.enable');
  await devtools.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
      ...{ isUserVerified: true, automaticPresenceSimulation: true },
    },
  });
  await page.getByLabel('your password').fill('lamp oil and rope');
  await page.getByRole('textbox', { name: 'what to call it' }).fill('This desk');
  await page.getByRole('button', { name: 'Make a passkey' }).click();
  await expect(page.getByRole('list', { name: 'Passkeys' })).toContainText('This desk');
  await page.getByRole('button', { name: 'Make ten' }).click();
  const code = (await page
    .getByRole('list', { name: 'Your recovery codes' })
    .getByRole('listitem')
    .first()
    .textContent())!;
  const out = async () => {
    await page.getByRole('button', { name: 'You: Cy' }).click();
    await page.getByRole('menuitem', { name: 'Sign out' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  };
  await out();
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
  // Where one was is where one is.
  await expect(page.getByRole('heading', { name: 'Cy' })).toBeVisible();
  await out();
  for (const good of [true, false]) {
    await page.getByRole('button', { name: 'Use a recovery code' }).click();
    await page.getByRole('textbox', { name: 'name' }).fill('cy');
    await page.getByRole('textbox', { name: 'recovery code' }).fill(code);
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    if (!good) break;
    await expect(page.getByRole('button', { name: 'You: Cy' })).toBeVisible();
    await out();
  }
  await expect(page.getByRole('alert')).toContainText('is not right');
  await page.context().close();
});

test('by keyboard alone: in, to the account, out everywhere', async ({ page, browser, server, keeper }) => {
  await (await joined(browser, server, keeper, 'Dot')).context().close();
  await page.goto('/');
  await expect(page.getByRole('textbox', { name: 'name' })).toBeFocused();
  await page.keyboard.type('Dot');
  await page.keyboard.press('Tab');
  await page.keyboard.type('lamp oil and rope');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'You: Dot' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Dot' })).toBeVisible();
  await page.getByRole('button', { name: 'Sign out everywhere' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});

test('every screen of it at every size, and axe-core finds nothing', async ({ page, browser, server, keeper }) => {
  const found: Record<string, string[]> = {};
  const look = (at: Page, name: string) => lookOver(at, name, found);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await look(page, 'sign in');
  const { body } = await keeper.ask<{ token: string }>('POST', '/invitations', { note: 'somebody' });
  const other = await another(browser, server);
  await other.goto(`/invited#${body.token}`);
  await expect(other.getByRole('textbox', { name: 'name' })).toBeVisible();
  await look(other, 'invited');
  await other.context().close();
  await signIn(page, 'Keeper');
  await page.goto('/account');
  await expect(page.getByRole('list', { name: 'Browsers' })).toBeVisible();
  await look(page, 'account');
  await page.goto('/people');
  await expect(page.getByRole('list', { name: 'Painters' })).toContainText('Keeper');
  await look(page, 'people');
  await page.goto('/');
  await more(page, 'Share');
  await expect(page.getByRole('list', { name: 'Who has it' })).toContainText('Keeper owns it');
  await look(page, 'share');
  expect(found).toEqual({});
});
