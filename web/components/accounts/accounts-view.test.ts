import { enableAutoUnmount } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { makeQueryClient } from '../../lib/query-client.ts';
import type { AccountRow } from '../../lib/types.ts';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import Accounts from '../../views/Accounts.vue';

enableAutoUnmount(afterEach);

const account = (id: number, of: Partial<AccountRow>): AccountRow =>
  ({
    ...{ id, kind: 'pages', name: `Account ${id}`, remoteId: `r${id}`, remoteName: 'Mo Okoro', status: 'ok' },
    ...{ trouble: null, connectedAt: 1, lastOkAt: 1, tokenExpiresAt: null, scopes: null, outlets: [], workflows: [] },
    ...{ missing: [], slowUntil: null, waiting: 0, allowance: null, watches: [] },
    ...(of as object),
  }) as unknown as AccountRow;
const outlet = (name: string) => ({ id: 1, name, kind: 'page', trouble: null, gone: false, details: {} });

let server: Answering;
beforeEach(() => {
  // How somebody has the table is kept in the browser.
  localStorage.clear();
  server = new Answering();
  const network = { kind: 'pages', name: 'Lagoon Pages', does: 'post', outlets: 'pages', acts: [], opens: null };
  server
    .to('GET', /networks$/, () => ({
      networks: [
        { ...network, creations: [], signIn: { by: 'consent' } },
        { ...network, kind: 'mail', name: 'Lagoon Mail', creations: [], signIn: { by: 'form', fields: [], help: '' } },
      ],
    }))
    .to('GET', /accounts$/, () => ({
      accounts: [
        account(1, { kind: 'mail', name: 'Letters' }),
        account(2, { name: 'Pools', outlets: [outlet('Gannet Point pool')] as unknown as AccountRow['outlets'] }),
      ],
      next: 'x',
    }))
    .to('GET', /accounts\?after=x$/, () => ({
      accounts: [
        account(3, {
          name: 'Baths',
          status: 'reconnect',
          allowance: { used: 90, calls: 100, per: 'hour', forecast: 95 },
        }),
        account(4, { name: 'Lidos' }),
        account(5, { name: 'Quays' }),
        account(6, { name: 'Swims' }),
      ],
      next: null,
    }));
});
const names = (page: ReturnType<typeof mounted>) =>
  page.findAll<HTMLInputElement>('tbody input').map((input) => input.element.value);

describe('accounts', () => {
  it('stand in the order of their networks, with all pages of the list, and are found by an outlet', async () => {
    const page = mounted(Accounts);
    await eventually(() => expect(names(page)).toEqual(['Baths', 'Lidos', 'Pools', 'Quays', 'Swims', 'Letters']));
    expect(page.text()).toContain('1 to connect again');
    await page.get('input[type="search"]').setValue('gannet');
    expect(names(page)).toEqual(['Pools']);
  });
  it('are sorted by how much of their allowance is used', async () => {
    const page = mounted(Accounts);
    await eventually(() => expect(names(page)).toHaveLength(6));
    await button(page, 'allowance').trigger('click');
    expect(names(page)[0]).toBe('Baths');
  });
  it('show the one that was connected just now first, its name chosen to be written over', async () => {
    const page = mounted(Accounts, {}, '/1/accounts?connected=5');
    await eventually(() => expect(names(page)[0]).toBe('Quays'));
    await eventually(() => expect(document.activeElement?.id).toBe('name-5'));
    expect(page.get('tbody tr').classes()).toContain('bg-sea-wash');
  });
  it('ask for the key of the network somebody came for, the first time and when all of it is known already', async () => {
    const known = makeQueryClient();
    for (let time = 0; time < 2; time++) {
      const page = mounted(Accounts, {}, '/1/accounts?connect=mail', known);
      await eventually(() =>
        expect(document.querySelector('[role="dialog"]')?.textContent).toContain('Connect Lagoon Mail'),
      );
      page.unmount();
      await eventually(() => expect(document.querySelector('[role="dialog"]')).toBeNull());
    }
  });
  it('say why they cannot be read', async () => {
    server = new Answering();
    server
      .to('GET', /networks$/, () => new Refusal(503, 'The database is away.'))
      .to('GET', /accounts$/, () => ({ accounts: [], next: null }));
    const page = mounted(Accounts);
    await eventually(() => expect(page.get('[role="alert"]').text()).toContain('The database is away.'));
  });
});
