// What every browser test stands on: a page whose clock stands at the hour that is set for these tests.
import { test as base } from '@playwright/test';

export { expect, type Locator, type Page } from '@playwright/test';

/** By how much the clocks of these tests are ahead of the machine's. */
export const ahead = (): number => Number(process.env.PLAYA_TEST_AHEAD ?? 0);
/** What time it is in the world of these tests. */
export const testNow = (): number => Date.now() + ahead();

export const test = base.extend({
  context: async ({ context }, use) => {
    await context.addInitScript((by: number) => {
      if (by === 0) return;
      const Real = Date;
      const Moved = function (this: unknown, ...parts: unknown[]) {
        // What time it is, is asked without anything; asked without `new`, it is answered as a text (ECMA-262, 21.4.2.1).
        const moved = Reflect.construct(Real, parts.length === 0 ? [Real.now() + by] : parts) as Date;
        return this instanceof Real ? moved : moved.toString();
      } as unknown as DateConstructor;
      Object.setPrototypeOf(Moved, Real);
      Object.defineProperty(Moved, 'prototype', { value: Real.prototype });
      Moved.now = () => Real.now() + by;
      globalThis.Date = Moved;
    }, ahead());
    await use(context);
  },
});
