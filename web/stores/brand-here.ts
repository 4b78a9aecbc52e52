// Whose a part of a screen is, where one screen shows several brands.
import { computed, inject, provide, type ComputedRef, type InjectionKey } from 'vue';
import type { Brand } from '../lib/types.ts';
import { useSession } from './session.ts';

/** A brand, and by what it is known to the server. */
export interface BrandHere {
  id: ComputedRef<number>;
  brand: ComputedRef<Brand | undefined>;
  /** An IANA time zone. */
  zone: ComputedRef<string>;
}

const KEY: InjectionKey<() => number | undefined> = Symbol('brand');

/** The brand that this part of the screen is about: the chosen one, unless a part around it says otherwise. */
export function useBrandHere(): BrandHere {
  return hereFor(inject(KEY, () => undefined));
}

/** Says which brand this part of the screen, and all in it, is about; undefined for what is said around it. */
export function provideBrand(id: () => number | undefined): BrandHere {
  const around = inject(KEY, () => undefined);
  const wanted = () => id() ?? around();
  provide(KEY, wanted);
  return hereFor(wanted);
}

function hereFor(wanted: () => number | undefined): BrandHere {
  const session = useSession();
  const id = computed(() => wanted() ?? session.brandId);
  const brand = computed(() => session.brands.find((each) => each.id === id.value));
  return {
    id,
    brand,
    zone: computed(() => brand.value?.timeZone ?? 'UTC'),
  };
}
