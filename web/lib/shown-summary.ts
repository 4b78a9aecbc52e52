import { inject, provide, type ComputedRef, type InjectionKey } from 'vue';
import type { Summary } from '@playa/core/rehearsal/summary.ts';

const KEY: InjectionKey<ComputedRef<Summary | null>> = Symbol('what the shown items add up to');

/** What the items on the sheet add up to, for whoever stands below it. */
export const provideSummary = (summary: ComputedRef<Summary | null>): void => provide(KEY, summary);
export const useSummary = (): ComputedRef<Summary | null> | undefined => inject(KEY, undefined);
