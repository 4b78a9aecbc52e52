// What the caption code needs of the message formatter's types, named in one place.
import type { MessageFormatOptions } from 'messageformat';

type Functions = NonNullable<MessageFormatOptions<string>['functions']>;
export type MessageFunction = Functions[string];
