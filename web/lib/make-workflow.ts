import type { Definition } from '@playa/core/workflow/definition.ts';
import { api } from './api.ts';

/** A short id for a step, unlike the others of its workflow. */
export function stepId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(6)), (byte) => (byte % 36).toString(36)).join('');
}

/** Makes a workflow to begin with: something to watch, a caption, somewhere to publish. Returns its number. */
export async function makeWorkflow(at: string, watch: number | null = null): Promise<number> {
  const definition: Definition = {
    schema: 1,
    sources: [{ id: stepId(), watch }],
    steps: [
      { id: stepId(), verb: 'compose', name: 'caption', text: '{$title}' },
      { id: stepId(), verb: 'publish', outlets: [], caption: 'caption', card: 'link' },
    ],
  };
  return (await api<{ id: number }>('POST', `${at}/workflows`, { name: 'New workflow', definition })).id;
}
