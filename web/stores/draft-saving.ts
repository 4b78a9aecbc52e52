// A draft is saved as it changes, over the revision it was made of.
import { ref, type Ref } from 'vue';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { settleTyping } from '../lib/after-paint.ts';
import { Refused, call } from '../lib/api.ts';
import type { Params } from '../lib/endpoint-types.ts';

export interface Draft {
  name: string;
  definition: Definition;
}

/** How it stands with keeping the draft, in words. */
export const SAVING_WORDS = {
  saved: 'Saved',
  waiting: 'Saving …',
  saving: 'Saving …',
  failed: 'Not saved yet',
  conflict: 'Changed elsewhere',
} as const;

/** Typing is waited out so long before it is saved. Milliseconds. */
const SAVE_AFTER = 500;
/** What could not be saved is tried again. Milliseconds. */
const AGAIN_AFTER = 4000;

/** @param of which workflow it is the draft of; null for what is kept by whoever opened it */
export function draftSaving(of: () => Params<'saveDraft'> | null, draft: Ref<Draft>, trouble: Ref<string>) {
  const saving = ref<keyof typeof SAVING_WORDS>('saved');
  let revision = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let savingNow: Promise<void> | undefined;

  async function save(): Promise<void> {
    // One at a time, and then whatever has come since.
    await savingNow;
    const workflow = of();
    if (!workflow || (saving.value !== 'waiting' && saving.value !== 'failed')) return;
    const sent = draft.value;
    saving.value = 'saving';
    savingNow = (async () => {
      try {
        const body = { ...sent, name: sent.name.trim() || 'Untitled', revision };
        revision = (await call('saveDraft', workflow, { body })).revision;
        trouble.value = '';
        if (saving.value === 'saving') saving.value = 'saved';
      } catch (error) {
        trouble.value = (error as Error).message;
        if (error instanceof Refused && error.status === 409) return void (saving.value = 'conflict');
        saving.value = 'failed';
        // Refused content will not get better by itself; anything else may.
        if (!(error instanceof Refused && error.status === 422)) timer = setTimeout(() => void save(), AGAIN_AFTER);
      }
    })();
    await savingNow;
    savingNow = undefined;
    if ((saving.value as string) === 'waiting') await save();
  }
  return {
    saving,
    revision: () => revision,
    /** A draft was opened as it is kept. */
    begin(of: number): void {
      revision = of;
      saving.value = 'saved';
    },
    /** It was changed. */
    soon(): void {
      saving.value = 'waiting';
      clearTimeout(timer);
      timer = setTimeout(() => void save(), SAVE_AFTER);
    },
    save,
    /** Saves what is not saved yet, at once. */
    async flush(): Promise<void> {
      settleTyping();
      clearTimeout(timer);
      if (saving.value === 'waiting' || saving.value === 'failed') await save();
      else await savingNow;
    },
    /** After a conflict: keep what is here, over what was saved elsewhere. */
    async keepMine(): Promise<void> {
      const workflow = of();
      if (!workflow) return;
      revision = (await call('openWorkflow', workflow)).draftRevision;
      saving.value = 'waiting';
      await save();
    },
  };
}
