import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { call, connectApi, Refused } from '../lib/api.ts';
import type { Answer, Brand } from '../lib/types.ts';

const KEY = 'playa.brand';

/** The brand somebody last worked on in this browser. */
export function lastBrand(): number | undefined {
  const kept = Number(localStorage.getItem(KEY));
  return kept > 0 ? kept : undefined;
}

/** Who is signed in, their brands, and the brand they are looking at. */
export const useSession = defineStore('session', () => {
  const user = ref<Answer<'whoAmI'>['user'] | null>(null);
  const brands = ref<Brand[]>([]);
  const brandId = ref(0);
  /** The session ended while something was open: sign in over it, so that nothing typed is lost. */
  const lapsed = ref(false);
  let loaded: Promise<void> | undefined;

  const brand = computed(() => brands.value.find((each) => each.id === brandId.value));
  /** Where the chosen brand's things are in the API. */
  const at = computed(() => `/brands/${brandId.value}`);
  const zone = computed(() => brand.value?.timeZone ?? 'UTC');

  connectApi({ signedOut: () => (lapsed.value = user.value !== null) });

  async function fetchMe(): Promise<void> {
    try {
      const me = await call('whoAmI', {});
      user.value = me.user;
      brands.value = me.brands;
      connectApi({ csrf: me.csrf });
      lapsed.value = false;
    } catch (error) {
      if (!(error instanceof Refused) || error.status !== 401) throw error;
      user.value = null;
    }
  }

  return {
    user,
    brands,
    brandId,
    brand,
    at,
    zone,
    lapsed,
    load: () =>
      (loaded ??= fetchMe().catch((error: unknown) => {
        loaded = undefined;
        throw error;
      })),
    /** @returns whether there is such a brand */
    choose(id: number): boolean {
      if (!brands.value.some((each) => each.id === id)) return false;
      brandId.value = id;
      localStorage.setItem(KEY, String(id));
      return true;
    },
    async signIn(way: { email: string; password: string } | 'demo'): Promise<void> {
      await (way === 'demo' ? call('signInToDemo', {}) : call('signIn', {}, { body: way }));
      await fetchMe();
    },
    async signOut(): Promise<void> {
      await call('signOut', {});
      // Nothing of one person may be left for the next.
      window.location.assign('/sign-in');
    },
    /** Ends the sessions on every device: for a computer that was left behind. */
    async signOutEverywhere(): Promise<void> {
      await call('signOutEverywhere', {});
      window.location.assign('/sign-in');
    },
  };
});
