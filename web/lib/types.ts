// What the server's answers hold, under the names that the interface uses. They come from the endpoints themselves:
// server/http/endpoints says what is answered, `npm run api-types` makes types of it.
import type { components } from './api-types.ts';
import type { Answer } from './endpoint-types.ts';
import type { Beside, BrandWorld } from './world-of.ts';

export type { Answer };

type Schemas = components['schemas'];
export type DeskNumbers = Schemas['DeskNumbers'];
export type Brand = Schemas['Brand'];
export type WorkflowStatus = Schemas['WorkflowStatus'];
export type ListedWorkflow = Schemas['ListedWorkflow'];
/** With the world it is read in, and the other live workflows of the brand. */
export type OpenedWorkflow = Schemas['OpenedWorkflow'] & { world: BrandWorld; beside: Beside };
export type RunCounts = Schemas['RunCounts'];
/** What really became of one item. */
export type HappenedRun = Schemas['Run'];
export type SourceWatch = Schemas['Watch'];
export type OutletRow = Schemas['Outlet'];
/** A field of a form that a network or something to be made asks for. */
export type AskedField = Schemas['AskedField'];
/** A kind of network this installation can reach. */
export type NetworkRow = Schemas['Network'];
export type AccountRow = Schemas['Account'];
/** Something that appears at an outlet and can be watched with an account. */
export type WatchableOutlet = Schemas['WatchableOutlet'];
/** A workflow that uses something of the brand's own. */
export type Use = Schemas['Use'];
export type SnippetWithUses = Schemas['SnippetWithUses'];
export type FileWithUses = Schemas['FileWithUses'];
/** What a workflow would say with other words in a snippet. */
export type SnippetChange = Schemas['SnippetChange'];
/** How a post was changed after it went out. */
export type PostEdit = Schemas['PostEdit'];
export type Today = Schemas['Today'];
/** One thing that waits for a person. */
export type Held = Schemas['Held'];
export type Appeared = Schemas['Appeared'];
export type Notice = Schemas['Notice'];
export type SetAside = Schemas['SetAside'];
export type LikelyPost = Schemas['LikelyPost'];
export type CalendarPost = Schemas['CalendarPost'];
export type CalendarOutlet = Schemas['CalendarOutlet'];
export type PostWithoutTime = Schemas['PostWithoutTime'];
export type OpenedCalendar = Answer<'openCalendar'>;
export type PostOnShelf = Schemas['PostOnShelf'];
export type ImportedPosts = Answer<'importPosts'>;
export type OpenedPost = Answer<'openWritten'>;
export type MovedPosts = Answer<'movePost'>;
export type ListedSheet = Schemas['SheetInList'];
export type OpenedSheet = Schemas['OpenedSheet'];
export type SheetRow = Schemas['SheetRow'];
/** Something that was done, by whom. */
export type AuditEntry = Schemas['AuditEntry'];
export type AuditPage = Answer<'readAudit'>;
/** How a sheet is kept in step with a table elsewhere. */
export type SheetSync = Schemas['SheetSync'];
export type SheetSyncPreview = Schemas['SheetSyncPreview'];
export type TableElsewhere = Schemas['TableElsewhere'];
/** A cell that somebody else has changed meanwhile. */
export type EditConflict = Schemas['EditConflict'];
/** What was done to a row, by whom. */
export type RowDone = Schemas['RowDone'];
export type OpenedRow = Answer<'openSheetRow'>;
export type ImportedRows = Answer<'importIntoSheet'>;
export type LogbookEntry = Schemas['LogbookEntry'];
export type LogbookFilters = Answer<'openLogbook'>;
export type LogbookPage = Answer<'readLogbook'>;
export type UntidyPost = Schemas['UntidyPost'];
export type Desk = Schemas['Desk'];
/** Something that somebody wrote to the brand. */
export type DeskEntry = Schemas['DeskEntry'];
export type OpenedDeskEntry = Answer<'openDeskEntry'>;
export type DeskSource = Answer<'listDeskSources'>['sources'][number];
export type Contact = Schemas['Contact'];
export type ListedContacts = Answer<'listContacts'>;
