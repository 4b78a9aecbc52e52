// Made by `npm run api-types` from the endpoints in server/http/endpoints. Not changed by hand.
import type { FieldValue } from '@playa/core/items/item.ts';
import type { Fields } from '@playa/core/items/item.ts';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import type { Group } from '@playa/core/conditions/condition.ts';
import type { Step } from '@playa/core/steps/step.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { WrittenPost } from '@playa/core/posts/written.ts';
import type { Trace } from '@playa/core/model/cells.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import type { ActName } from '@playa/core/model/acts.ts';

export type webhooks = Record<string, never>;
export interface components {
    schemas: {
        /** @description When an outlet publishes, by the brand’s clock. */
        Timetable: {
            times: string[][];
            pauses: {
                /** Format: date */
                from: string;
                /** Format: date */
                to: string;
                name: string;
            }[];
            mostPerDay: number | null;
            gap: number;
            late: {
                after: number;
                then: "send" | "free" | "hold";
            };
            /** @default 43200 */
            sameWords?: number;
        };
        /** @description A post written by hand. */
        WrittenPost: WrittenPost;
        /** @description A column, with the type of its cells. */
        SheetColumn: {
            key: string;
            name: string;
            width?: number;
            type: "text" | "longText" | "number" | "yesNo" | "date" | "moment" | "link" | "picture" | "outlet" | "person";
        } | {
            key: string;
            name: string;
            width?: number;
            /** @constant */
            type: "choice";
            options: {
                value: string;
                colour: "plain" | "sea" | "kelp" | "amber" | "rose" | "dusk";
            }[];
        } | {
            key: string;
            name: string;
            width?: number;
            /** @constant */
            type: "computed";
            words: string;
        } | {
            key: string;
            name: string;
            width?: number;
            /** @constant */
            type: "left";
            of: string;
            kind: "page" | "channel" | "microblog" | "photos" | "board" | "professional" | "room" | "broadcast" | "listing" | "classes" | "sheet" | "folder" | "queue" | "model" | "mailbox" | "address";
        };
        Condition: Group;
        /** @description By what rules a sheet is kept in step with a table elsewhere. */
        SheetSyncRules: {
            columns: {
                key: string;
                there: string;
            }[];
            match: string | null;
            wins: "here" | "there";
            deletions: boolean;
        };
        /** @description What a workflow does. */
        Definition: Definition;
        Step: Step;
        FieldValue: FieldValue;
        LearnedSchema: JsonSchema;
        /** @description The fields of an item by name. */
        Fields: Fields;
        NetworkKind: NetworkKind;
        /** @description Why something was refused (RFC 9457). */
        Refusal: {
            /** @description Which sort of problem it is: an address below /problems. */
            type: string;
            /**
             * @description The same, in a word.
             * @enum {string}
             */
            code: "signed-out" | "forbidden" | "not-found" | "conflict" | "too-large" | "unreadable" | "not-ready" | "too-often" | "network" | "unavailable" | "fault";
            /** @description A sentence for the person. */
            title: string;
            status: number;
        } & {
            [key: string]: unknown;
        };
        /** @description https://spec.openapis.org/oas/v3.1.0 */
        OpenApi: {
            openapi: string;
            info: {
                title: string;
                version: string;
            } & {
                [key: string]: unknown;
            };
            paths: {
                [key: string]: unknown;
            };
        } & {
            [key: string]: unknown;
        };
        Brand: {
            id: number;
            name: string;
            timeZone: string;
            locale: string;
            role: "member";
        };
        Today: {
            now: number;
            notices: components["schemas"]["Notice"][];
            aside: components["schemas"]["SetAside"][];
            /** @description How much waits for a person in all; `held` shows what has waited longest. */
            waits: number;
            held: components["schemas"]["Held"][];
            /** @description Posts written by hand that wait for a yes of whoever asks. */
            approvals: {
                post: number;
                title: string;
                by: string | null;
                at: number | null;
            }[];
            accounts: {
                id: number;
                kind: components["schemas"]["NetworkKind"];
                name: string;
                says: string | null;
                waiting: number;
            }[];
            watches: {
                id: number;
                name: string;
                says: string | null;
                since: number | null;
            }[];
            outlets: {
                id: number;
                name: string;
                kind: components["schemas"]["OutletKind"];
                address: string | null;
                fed: boolean;
            }[];
            went: components["schemas"]["WentOut"][];
            coming: {
                outlet: number;
                at: number;
                title: string;
                workflowId: number;
                workflow: string;
                /** @description Nothing may still keep it from going out there. */
                sure: boolean;
                /** @description It waits for its account to be connected again. */
                waits: boolean;
            }[];
            appeared: components["schemas"]["Appeared"][];
        };
        Notice: {
            id: number;
            workflowId: number | null;
            workflow: string | null;
            runId: number | null;
            text: string;
            at: number;
        };
        SetAside: {
            id: number;
            kind: "delivery" | "item" | "act";
            watchId: number | null;
            workflowId: number | null;
            runId: number | null;
            what: string;
            why: string;
            at: number;
            source: string | null;
        };
        /** @description One thing that waits for a person. */
        Held: {
            runId: number;
            workflowId: number;
            workflow: string;
            itemId: number;
            title: string;
            since: number;
            /** @description To decide by; null when the run itself is stuck. */
            key: string | null;
            says: string;
            outlet: string | null;
            /** @description For counting the words as it does. */
            kind: components["schemas"]["OutletKind"] | null;
            action: ("publish" | "reply" | "message" | "react" | "revise" | "record" | "find" | "draft" | "label" | "notify" | "call" | "hold") | null;
            what: string;
            input: {
                [key: string]: unknown;
            } | null;
            text: string | null;
            trouble: ("empty" | "too-long" | "no-outlet" | "failed" | "unknown" | "asks" | "none" | "several" | "outdated" | "date" | "draft") | "run";
            /** @description Which part of it is at fault, where that is known. */
            fault: ("words" | "title" | "shape") | null;
            /** @description What is decided waits until its workflow goes on. */
            paused: boolean;
            /** @description What it would answer is answered by now. */
            answered: boolean;
        };
        OutletKind: OutletKind;
        WentOut: {
            id: number;
            workflowId: number;
            workflow: string;
            runId: number;
            action: string;
            outletId: number | null;
            outlet: string;
            text: string;
            card: string | null;
            url: string | null;
            at: number;
            deleted: boolean;
        };
        Appeared: {
            id: number;
            title: string;
            link: string;
            thumbnail: string;
            publishedAt: number | null;
            seenAt: number;
            watch: string;
            runs: {
                workflow: string;
                workflowId: number;
                status: string;
            }[];
            own: boolean;
            late: boolean;
            /** @description Live workflows that have not had it. */
            takers: {
                id: number;
                name: string;
            }[];
        };
        CalendarOutlet: {
            id: number;
            name: string;
            kind: components["schemas"]["OutletKind"];
            /** @description A live workflow posts there. */
            used: boolean;
            timetable: components["schemas"]["TimetableOutput"];
            /** @description Of the timetable; 0 where nobody has made one. */
            revision: number;
        };
        CalendarPost: {
            /** @description The same as long as it is planned, and when it is out. */
            key: string;
            state: "out" | "deleted" | "sending" | "planned" | "ahead" | "account" | "paused" | "idea" | "draft" | "approval" | "ended";
            outlet: number;
            at: number;
            title: string;
            /** @description Null as long as its run has not come to its words. */
            text: string | null;
            url: string | null;
            workflowId: number | null;
            workflow: string;
            /** @description Where it was written by hand. */
            post: number | null;
            runId: number | null;
            /** @description Null for a post by hand that has not been let go. */
            itemId: number | null;
            /** @description Nothing may still keep it from going out there. */
            sure: boolean;
            /** @description By which it is moved; null for what cannot be. */
            effect: number | null;
            /** @description The time of the timetable that it holds. */
            slot: number | null;
        };
        PostWithoutTime: {
            key: string | null;
            runId: number;
            workflowId: number;
            workflow: string;
            itemId: number;
            outlet: number;
            title: string;
            text: string | null;
            says: string;
            trouble: string;
            since: number;
            /** @description Where it was written by hand. */
            post: number | null;
        };
        /** @description A post by hand that has no time yet. */
        PostOnShelf: {
            post: number;
            stage: "idea" | "draft" | "approval" | "going" | "out" | "ended";
            title: string;
            outlets: number[];
            missing: {
                what: string;
                says: string;
            }[];
        };
        LikelyPost: {
            workflow: number;
            name: string;
            outlet: number;
            /** Format: date */
            date: string;
            /** @description On average: 0.5 is one every other week. */
            posts: number;
            /** @description When in the day they usually go. */
            at: number;
        };
        /** @description Who did what, and when. */
        Done: {
            id: number;
            aboutId: number | null;
            /** @description Null for Playa itself. */
            by: string | null;
            did: string;
            was: string | null;
            became: string | null;
            at: number;
        };
        PostRow: {
            line: number;
            state: "idea" | "draft" | "ready";
            title: string;
            outlets: number[];
            at: number | null;
            link: string;
            problems: {
                column: "when" | "where" | "words" | "link" | "state";
                says: string;
            }[];
        };
        WorldThing: {
            /** @constant */
            of: "outlet";
            outlet: components["schemas"]["WorldOutlet"];
        } | {
            /** @constant */
            of: "watch";
            watch: components["schemas"]["WorldWatch"];
        } | {
            /** @constant */
            of: "colleague";
            colleague: {
                id: number;
                name: string;
            };
        } | {
            /** @constant */
            of: "secret";
            secret: string;
        } | {
            /** @constant */
            of: "snippet";
            snippet: {
                name: string;
                text: string;
            };
        } | {
            /** @constant */
            of: "file";
            file: components["schemas"]["BrandFile"];
        } | {
            /** @constant */
            of: "workflow";
            workflow: components["schemas"]["Beside"];
        };
        WorldOutlet: {
            id: number;
            kind: components["schemas"]["OutletKind"];
            name: string;
            accountId: number | null;
            readonly acts?: components["schemas"]["ActName"][];
            readonly revisions?: ("edit" | "delete" | "pin" | "unpin" | "forward")[];
            details?: {
                columns?: {
                    name: string;
                    label?: string;
                    type: string;
                    computed?: boolean;
                }[];
                groups?: {
                    id: string;
                    name: string;
                }[];
                within?: string;
                watchOnly?: boolean;
            };
            timetable?: components["schemas"]["TimetableOutput"];
            trouble?: string;
        };
        ActName: ActName;
        WorldWatch: {
            id: number;
            name: string;
            things: string;
            said?: "review" | "comment" | "mention" | "message";
            outlet?: number;
            internal?: boolean;
            shape?: {
                [key: string]: components["schemas"]["Shape"];
            };
            readonly shows?: number[];
        };
        /** @description What a value is: its type, and what lies inside it. */
        Shape: {
            type: "text" | "longText" | "number" | "yesNo" | "link" | "picture" | "date" | "moment" | "duration";
            label?: string;
        } | {
            /** @constant */
            type: "choice";
            options: string[];
            label?: string;
        } | {
            /** @constant */
            type: "list";
            of: components["schemas"]["Shape"];
            label?: string;
        } | {
            /** @constant */
            type: "object";
            fields: {
                [key: string]: components["schemas"]["Shape"];
            };
            label?: string;
        };
        BrandFile: {
            id: number;
            type: "picture" | "video";
            name: string;
            alt: string;
            url: string;
            bytes: number | null;
            mediaType: string | null;
            width: number | null;
            height: number | null;
            seconds: number | null;
        };
        Beside: {
            id: number;
            name: string;
            definition: components["schemas"]["DefinitionOutput"];
        };
        SheetInList: {
            id: number;
            name: string;
            columns: components["schemas"]["SheetColumnOutput"][];
            revision: number;
            views: components["schemas"]["SheetView"][];
            /** @description How often any row has changed: to hand on as `since`. */
            changes: number;
            outletId: number;
            watchId: number;
            uses: components["schemas"]["Use"][];
            rows: number;
            /** @description The table elsewhere, by name. */
            inStepWith: string | null;
        };
        SheetView: {
            name: string;
            sort: {
                key: string;
                down: boolean;
            }[];
            filter: components["schemas"]["ConditionOutput"] | null;
            hidden: string[];
        };
        /** @description A workflow that uses something of the brand’s own. */
        Use: {
            workflowId: number;
            workflow: string;
            steps: number;
            live: boolean;
        };
        OpenedSheet: {
            id: number;
            name: string;
            columns: components["schemas"]["SheetColumnOutput"][];
            revision: number;
            views: components["schemas"]["SheetView"][];
            /** @description How often any row has changed: to hand on as `since`. */
            changes: number;
            outletId: number;
            watchId: number;
            uses: components["schemas"]["Use"][];
            /** @description What a cell can name as an outlet. */
            outlets: {
                id: number;
                name: string;
            }[];
            /** @description Whom a cell can name as a colleague. */
            people: {
                id: number;
                name: string;
            }[];
            /** @description The table elsewhere that it is kept in step with. */
            inStep: components["schemas"]["SheetSync"] | null;
        };
        SheetSync: {
            outlet: {
                id: number;
                name: string;
                address: string | null;
            };
            rules: components["schemas"]["SheetSyncRulesOutput"];
            /** @description Of table and rules: a change of them carries it. */
            revision: string;
            state: "on" | "paused";
            /** @description Whether both sides have been compared at least once. */
            joined: boolean;
            /** @description What keeps both sides apart. */
            trouble: string | null;
            /** @description Many rows are missing on a side; nothing is deleted before somebody has decided. */
            vanished: {
                side: "here" | "there";
                rows: number;
                of: number;
            } | null;
            remarks: components["schemas"]["SheetSyncRemark"][];
            /** @description When both sides last said the same. */
            syncedAt: number | null;
        };
        SheetSyncRemark: {
            row: number;
            key: string;
            why: "refused" | "overwritten";
            /** @description The other side’s reason; or what was lost. */
            says: string;
            at: number;
        };
        Sheet: {
            id: number;
            name: string;
            columns: components["schemas"]["SheetColumnOutput"][];
            revision: number;
            views: components["schemas"]["SheetView"][];
            /** @description How often any row has changed: to hand on as `since`. */
            changes: number;
            outletId: number;
            watchId: number;
            uses: components["schemas"]["Use"][];
        };
        ImportRow: {
            line: number;
            cells: {
                [key: string]: string | number | boolean | null;
            };
            problems: {
                key: string;
                typed: string;
                says: string;
            }[];
        };
        SheetRow: {
            id: number;
            place: number;
            cells: {
                [key: string]: string | number | boolean | null;
            };
            revision: number;
            /** @description The count of the sheet at its last change. */
            changed: number;
            createdAt: number;
            changedAt: number;
            deleted: boolean;
        };
        /** @description A cell that somebody else has changed meanwhile; it stays as it is. */
        EditConflict: {
            row: number;
            key: string;
            /** @description What stands there now. */
            now: string | number | boolean | null;
            wanted: string | number | boolean | null;
            /** @description Who changed the row last. */
            by: string | null;
        };
        RowDone: {
            id: number;
            at: number;
            did: "added" | "changed" | "deleted" | "restored";
            /** @description A person; null for a run, or Playa itself. */
            by: string | null;
            run: {
                id: number;
                workflowId: number;
                workflow: string;
            } | null;
            was: {
                [key: string]: string | number | boolean | null;
            };
            became: {
                [key: string]: string | number | boolean | null;
            };
        };
        /** @description The cells of a run by place. */
        Trace: Trace;
        TableElsewhere: {
            /** @description Of the outlet. */
            id: number;
            name: string;
            columns: {
                name: string;
                type: string;
            }[];
            /** @description The sheet that is in step with it already. */
            inStepWith: {
                sheetId: number;
                name: string;
            } | null;
        };
        SheetSyncPreview: {
            /** @description Rows here. */
            here: number;
            /** @description Rows there. */
            there: number;
            /** @description Whether all rows there could be read. */
            whole: boolean;
            /** @description The columns there. */
            columns: string[];
            /** @description Chosen columns that there are not, there. */
            missing: string[];
            paired: number;
            addHere: number;
            addThere: number;
            /** @description Cells here that change. */
            bring: number;
            /** @description Cells there that change. */
            send: number;
            /** @description Cells that say something else on both sides, the first 50. */
            differ: {
                row: number;
                key: string;
                here: string;
                there: string;
            }[];
            /** @description How many such cells there are. */
            differs: number;
            /** @description Live workflows that changed rows may start, by name. */
            startedBy: string[];
        };
        Desk: {
            now: number;
            /** @description Milliseconds within which an answer can be called back. */
            callBack: number;
            entries: components["schemas"]["DeskEntry"][];
            /** @description How many wait, and are put off; no more than a thousand are counted. */
            counts: {
                open: number;
                later: number;
            };
            outlets: {
                id: number;
                name: string;
            }[];
            members: {
                id: number;
                name: string;
            }[];
            /** @description Labels that people of the brand have, the most used first. */
            labels: string[];
            /** @description To hand on as `after` for the next page; null on the last one. */
            next: string | null;
        };
        /** @description Something that somebody wrote to the brand, and what we would answer. */
        DeskEntry: {
            itemId: number;
            kind: "review" | "comment" | "mention" | "message";
            text: string;
            stars: number | null;
            contact: {
                id: number | null;
                name: string;
                labels: string[];
                leftAlone: boolean;
            };
            outletId: number | null;
            outlet: string;
            outletKind: components["schemas"]["OutletKind"] | null;
            /** @description Characters that an answer may have. */
            limit: number | null;
            link: string;
            about: {
                title: string;
                link: string;
                picture: string;
            } | null;
            nested: boolean;
            form: "nothing" | "emoji" | "signs" | "words" | "sentences";
            language: string;
            tone: ("glad" | "plain" | "cross") | null;
            question: boolean;
            saidAt: number;
            /** @description 0 is looked at first: few stars, cross words. */
            risk: number;
            state: "open" | "answered" | "ignored" | "gone" | "old";
            answer: {
                text: string;
                by: "workflow" | "user" | "there";
                user: string | null;
                at: number;
            } | null;
            /** @description What somebody typed and has not sent. */
            draft: string | null;
            /** @description Why it could not be sent. */
            trouble: string | null;
            assignedTo: {
                id: number;
                name: string;
            } | null;
            snoozedUntil: number | null;
            /** @description Who is answering it. */
            openedBy: {
                id: number;
                name: string;
            } | null;
            held: components["schemas"]["Proposed"] | null;
            coming: components["schemas"]["Proposed"] | null;
            sending: {
                text: string;
                by: string;
                dueAt: number;
            } | null;
        };
        /** @description What a workflow would answer. */
        Proposed: {
            runId: number;
            /** @description To decide by; null for what is on its way. */
            key: string | null;
            workflow: string;
            workflowId: number;
            /** @description Nothing goes out while the workflow is paused. */
            paused: boolean;
            text: string | null;
            /** @description Why it is held. */
            says: string;
            trouble: string | null;
            /** @description When what is on its way goes. */
            at: number | null;
            action: ("publish" | "reply" | "message" | "react" | "revise" | "record" | "find" | "draft" | "label" | "notify" | "call" | "hold") | null;
            input: {
                [key: string]: unknown;
            } | null;
        };
        /** @description Somebody who wrote to the brand. */
        Contact: {
            id: number;
            name: string;
            network: string;
            since: number;
            notes: string;
            /** @description Of the notes. */
            revision: string;
            labels: string[];
            /** @description Why they are left alone; null when they are not. */
            leftAlone: string | null;
            /** @description As whom they are known besides. */
            also: {
                id: number;
                name: string;
                network: string;
            }[];
        };
        DeskNumbers: {
            now: number;
            from: number;
            /** @description Milliseconds without a word after which nobody is waited for. */
            silentAfter: number;
            all: {
                /** @description Answered and waiting. */
                asked: number;
                answered: number;
                waiting: number;
                /** @description Answered of those who wanted an answer, 0 to 1. */
                share: number | null;
                /** @description Milliseconds; null where too many still wait to know. */
                median: number | null;
                /** @description Milliseconds; null where too many still wait to know. */
                ninety: number | null;
            };
            weeks: {
                /** @description The Monday it begins with. */
                week: string;
                /** @description Answered and waiting. */
                asked: number;
                answered: number;
                waiting: number;
                /** @description Answered of those who wanted an answer, 0 to 1. */
                share: number | null;
                /** @description Milliseconds; null where too many still wait to know. */
                median: number | null;
                /** @description Milliseconds; null where too many still wait to know. */
                ninety: number | null;
                reviews: number;
                stars: number | null;
                /** @description Answered by workflows alone. */
                alone: number;
                people: number;
                /** @description Answered at the network itself. */
                there: number;
                left: number;
            }[];
            places: {
                outletId: number | null;
                outlet: string;
                /** @description Answered and waiting. */
                asked: number;
                answered: number;
                waiting: number;
                /** @description Answered of those who wanted an answer, 0 to 1. */
                share: number | null;
                /** @description Milliseconds; null where too many still wait to know. */
                median: number | null;
                /** @description Milliseconds; null where too many still wait to know. */
                ninety: number | null;
                reviews: number;
                stars: number | null;
            }[];
            byStars: number[];
            journeys: {
                workflowId: number;
                workflow: string;
                begun: number;
                again: number;
                stopped: number;
                silent: number;
                open: number;
            }[];
        };
        KeptView: {
            name: string;
            query: string;
        };
        /** @description Something that went out. */
        LogbookEntry: {
            id: number;
            key: string;
            action: string;
            at: number;
            workflowId: number;
            workflow: string;
            runId: number;
            itemId: number;
            outletId: number | null;
            outlet: string | null;
            text: string;
            card: string | null;
            url: string | null;
            media: {
                type: string;
                url: string;
                alt: string;
            } | null;
            edited: boolean;
            deletedAt: number | null;
        };
        LogbookOutlet: {
            id: number;
            name: string;
            kind: components["schemas"]["OutletKind"];
            accountId: number | null;
            /** @description What its network lets be done to posts that are out. */
            revisions: ("edit" | "delete" | "pin" | "unpin" | "forward")[];
        };
        UntidyPost: {
            entry: components["schemas"]["LogbookEntry"];
            kind: components["schemas"]["OutletKind"];
            untidy: {
                what: "title" | "link" | "picture" | "alt" | "doubled";
                /** @description The key of the earlier post. */
                of?: string;
            }[];
            /** @description Its network lets that be mended. */
            changeable: boolean;
        };
        ListedWorkflow: {
            id: number;
            name: string;
            status: components["schemas"]["WorkflowStatus"];
            version: number | null;
            pausedBecause: string | null;
            sentence: components["schemas"]["Phrase"];
            problems: components["schemas"]["WorthALook"][];
            /** @description The draft differs from what is live. */
            unapplied: boolean;
            runs: number;
            posts: number;
            /** @description Replies, rows, letters and the like. */
            others: number;
            held: number;
            lastAt: number | null;
            /** @description Who let it go live, paused it or let it go on, last. */
            lastly: components["schemas"]["Done"] | null;
        };
        WorkflowStatus: "draft" | "live" | "paused";
        /** @description A sentence whose names of things are marked. */
        Phrase: (string | {
            name: string;
            kind: "outlet" | "watch";
            id: number;
        })[];
        WorthALook: {
            level: "harm" | "advice";
            step: string | null;
            says: string;
        };
        OpenedWorkflow: {
            id: number;
            brandId: number;
            name: string;
            status: components["schemas"]["WorkflowStatus"];
            draft: components["schemas"]["DefinitionOutput"];
            draftRevision: number;
            liveVersion: number | null;
            live: components["schemas"]["DefinitionOutput"] | null;
            pausedBecause: string | null;
            pausedAt: number | null;
            createdAt: number;
            changedAt: number;
        };
        /** @description How many runs a workflow has had, and what went out. */
        RunCounts: {
            runs: number;
            held: number;
            waiting: number;
            stopped: number;
            posts: number;
            answers: number;
            others: number;
        };
        /** @description What really became of one item. */
        Run: {
            id: number;
            workflowId: number;
            itemId: number;
            itemRevision: number;
            version: number;
            status: "new" | "waiting" | "held" | "done" | "stopped" | "cancelled";
            queued: boolean;
            backfill: boolean;
            thinned: boolean;
            changed: boolean;
            /** @description The step it stands at. */
            at: string | null;
            values: components["schemas"]["Fields"];
            inputs: {
                key: string;
                action: "publish" | "reply" | "message" | "react" | "revise" | "record" | "find" | "draft" | "label" | "notify" | "call" | "hold";
                input: {
                    [key: string]: unknown;
                };
            }[];
            trace: components["schemas"]["Trace"];
            trouble: string | null;
            dueAt: number | null;
            createdAt: number;
            changedAt: number;
            item: components["schemas"]["Item"];
            /** @description What people did with it, newest first. */
            done: components["schemas"]["Done"][];
            retries: {
                runId: number;
                key: string;
                dueAt: number | null;
                trouble: string;
            }[];
        };
        Item: {
            id: number;
            watch: number;
            identity: string;
            publishedAt: number | null;
            seenAt: number;
            fields: components["schemas"]["Fields"];
        };
        /** @description A source of the brand’s, as it is looked at. */
        Watch: {
            id: number;
            brandId: number;
            sourceKey: string;
            kind: "feed" | "hook" | "schedule" | "network" | "sheet" | "written";
            /** @description By its kind: an address, a rule and its beginning, an account and what is watched. */
            params: {
                url?: string;
                rule?: string;
                start?: string;
                zone?: string;
            } & {
                [key: string]: unknown;
            };
            name: string;
            things: string;
            everySeconds: number;
            firstLookAt: number | null;
            lastLookAt: number | null;
            lastOkAt: number | null;
            failures: number;
            trouble: string | null;
            note: string | null;
            dueAt: number | null;
            names: {
                [key: string]: string;
            };
            usualDelay: number | null;
            intervalMs: number | null;
        };
        Outlet: {
            id: number;
            brandId: number;
            accountId: number | null;
            kind: components["schemas"]["OutletKind"];
            remoteId: string;
            name: string;
            address: string | null;
            feed: string | null;
            gone: boolean;
            details: {
                columns?: {
                    name: string;
                    label?: string;
                    type: string;
                    computed?: boolean;
                }[];
                groups?: {
                    id: string;
                    name: string;
                }[];
                within?: string;
                watchOnly?: boolean;
            };
            byHand: boolean;
            trouble: string | null;
            remedy: string | null;
            checkedAt: number | null;
        };
        WatchableOutlet: {
            outlet: number;
            name: string;
            accountName: string;
            what: string;
            things: string;
            told: boolean;
        };
        Account: {
            id: number;
            brandId: number;
            kind: components["schemas"]["NetworkKind"];
            name: string;
            remoteId: string;
            remoteName: string;
            status: "ok" | "reconnect" | "disconnected";
            trouble: string | null;
            connectedAt: number;
            lastOkAt: number | null;
            tokenExpiresAt: number | null;
            scopes: string | null;
            /** @description What was asked for at the consent and not given. */
            missing: string[];
            waiting: number;
            slowUntil: number | null;
            outlets: components["schemas"]["Outlet"][];
            allowance?: {
                calls: number;
                per: "hour" | "day";
                used: number;
                forecast: number;
            };
            workflows: {
                id: number;
                name: string;
                status: components["schemas"]["WorkflowStatus"];
            }[];
        };
        /** @description A kind of network that this installation can reach. */
        Network: {
            kind: components["schemas"]["NetworkKind"];
            name: string;
            does: string;
            outlets: string;
            address: string;
            signIn: {
                /** @constant */
                by: "consent";
            } | {
                /** @constant */
                by: "form";
                help: string;
                readonly fields: components["schemas"]["AskedField"][];
            };
            opens: string | null;
            creations: {
                what: string;
                readonly fields: components["schemas"]["AskedField"][];
            }[];
            acts: string[];
            watches: {
                what: string;
                things: string;
                outlet: components["schemas"]["OutletKind"];
            }[];
        };
        /** @description A field of a form that a network asks for. */
        AskedField: {
            name: string;
            label: string;
            secret?: boolean;
            hint?: string;
            optional?: boolean;
        };
        SnippetWithUses: {
            name: string;
            text: string;
            revision: string;
            uses: components["schemas"]["Use"][];
        };
        SnippetChange: {
            workflow: string;
            outlet: string;
            before: string;
            after: string;
            trouble: string | null;
        };
        FileWithUses: {
            id: number;
            type: "picture" | "video";
            name: string;
            alt: string;
            url: string;
            bytes: number | null;
            mediaType: string | null;
            width: number | null;
            height: number | null;
            seconds: number | null;
            revision: string;
            uses: components["schemas"]["Use"][];
        };
        PostEdit: {
            before: string;
            after: string;
            deletes: boolean;
            by: string;
            made: boolean;
            at: number;
        };
        AuditEntry: {
            id: number;
            at: number;
            /** @description A person, or the workflow whose run did it; null for Playa. */
            by: string | null;
            byUser: boolean;
            did: string;
            about: "run" | "workflow" | "post" | "written post" | "desk" | "contact" | "sheet" | "source" | "account" | "outlet" | "snippet" | "secret" | "file" | "brand";
            aboutId: number | null;
            /** @description What it is called, where it has a name. */
            name: string | null;
            workflowId: number | null;
            was: string | null;
            became: string | null;
        };
        /** @description When an outlet publishes, by the brand’s clock. */
        TimetableOutput: {
            times: string[][];
            pauses: {
                /** Format: date */
                from: string;
                /** Format: date */
                to: string;
                name: string;
            }[];
            mostPerDay: number | null;
            gap: number;
            late: {
                after: number;
                then: "send" | "free" | "hold";
            };
            /** @default 43200 */
            sameWords: number;
        };
        /** @description A post written by hand. */
        WrittenPostOutput: WrittenPost;
        /** @description What a workflow does. */
        DefinitionOutput: Definition;
        ConditionOutput: Group;
        StepOutput: Step;
        /** @description A column, with the type of its cells. */
        SheetColumnOutput: {
            key: string;
            name: string;
            width?: number;
            type: "text" | "longText" | "number" | "yesNo" | "date" | "moment" | "link" | "picture" | "outlet" | "person";
        } | {
            key: string;
            name: string;
            width?: number;
            /** @constant */
            type: "choice";
            options: {
                value: string;
                colour: "plain" | "sea" | "kelp" | "amber" | "rose" | "dusk";
            }[];
        } | {
            key: string;
            name: string;
            width?: number;
            /** @constant */
            type: "computed";
            words: string;
        } | {
            key: string;
            name: string;
            width?: number;
            /** @constant */
            type: "left";
            of: string;
            kind: "page" | "channel" | "microblog" | "photos" | "board" | "professional" | "room" | "broadcast" | "listing" | "classes" | "sheet" | "folder" | "queue" | "model" | "mailbox" | "address";
        };
        /** @description By what rules a sheet is kept in step with a table elsewhere. */
        SheetSyncRulesOutput: {
            columns: {
                key: string;
                there: string;
            }[];
            match: string | null;
            wins: "here" | "there";
            deletions: boolean;
        };
        LearnedSchemaOutput: JsonSchema;
    };
    responses: never;
    parameters: never;
    requestBodies: never;
    headers: never;
    pathItems: never;
}
export type $defs = Record<string, never>;
export interface operations {
    readHealth: {
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @constant */
                        ok: true;
                    };
                };
            };
        };
    };
    readDocument: {
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["OpenApi"];
                };
            };
        };
    };
    listSignInWays: {
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        demo: boolean;
                    };
                };
            };
        };
    };
    signIn: {
        requestBody: {
            content: {
                "application/json": {
                    email: string;
                    password: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    signInToDemo: {
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    signOut: {
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    whoAmI: {
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        user: {
                            id: number;
                            email: string;
                            name: string;
                        };
                        csrf: string;
                        brands: components["schemas"]["Brand"][];
                    };
                };
            };
        };
    };
    countWaiting: {
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        brands: {
                            id: number;
                            toAnswer: number;
                        }[];
                    };
                };
            };
        };
    };
    signOutEverywhere: {
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    listen: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description It goes on. */
            200: {
                content: {
                    "text/event-stream": string;
                };
            };
        };
    };
    finishConnect: {
        responses: {
            /** @description It goes on. */
            200: {
                content: {
                    "text/html": string;
                };
            };
        };
    };
    readTrouble: {
        parameters: {
            path: {
                token: string;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        says: string;
                    };
                };
            };
        };
    };
    openToday: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["Today"];
                };
            };
        };
    };
    openCalendar: {
        parameters: {
            query: {
                from: number;
                to: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        now: number;
                        outlets: components["schemas"]["CalendarOutlet"][];
                        posts: components["schemas"]["CalendarPost"][];
                        /** @description Posts that wait for a person, and have no time as long as they do. */
                        held: components["schemas"]["PostWithoutTime"][];
                        shelf: components["schemas"]["PostOnShelf"][];
                        approves: "nobody" | "anybody" | "another";
                        /** @description There is more than is shown. */
                        more: boolean;
                    };
                };
            };
        };
    };
    forecastCalendar: {
        parameters: {
            query: {
                from: number;
                to: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        likely: components["schemas"]["LikelyPost"][];
                    };
                };
            };
        };
    };
    movePost: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    effect: number;
                    to: number;
                    others: "stay" | "move";
                    preview: boolean;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description What goes elsewhere now; what was moved comes first. */
                        places: {
                            id: number;
                            at: number;
                            slot: number | null;
                            before: number;
                        }[];
                        conflicts: ("past" | "taken" | "gap" | "day" | "pause")[];
                    };
                };
            };
        };
    };
    exportCalendar: {
        parameters: {
            query: {
                from: number;
                to: number;
                as: "ics" | "csv" | "xlsx";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description It goes on. */
            200: {
                content: {
                    "text/calendar": string;
                };
            };
        };
    };
    openCalendarAddress: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        feed: {
                            ics: string;
                        } | null;
                    };
                };
            };
        };
    };
    setCalendarAddress: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    on: boolean;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        feed: {
                            ics: string;
                        } | null;
                    };
                };
            };
        };
    };
    keepTimetable: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    timetable: components["schemas"]["Timetable"];
                    revision: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        revision: number;
                    };
                };
            };
        };
    };
    startWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        post: components["schemas"]["WrittenPostOutput"];
                        /**
                         * @description Who has to say yes before a post goes out: nobody, anybody, or somebody else than whose words they are.
                         * @enum {string}
                         */
                        approves: "nobody" | "anybody" | "another";
                    };
                };
            };
        };
    };
    openWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        id: number;
                        state: "idea" | "draft" | "ready";
                        post: components["schemas"]["WrittenPostOutput"];
                        revision: number;
                        stage: "idea" | "draft" | "approval" | "going" | "out" | "ended";
                        /** @description Outlets at which it is out or on its way. */
                        out: number[];
                        runId: number | null;
                        /** @description It is under way: what has not gone yet can be ended. */
                        open: boolean;
                        /** @description Whose words they are. */
                        by: string | null;
                        /** @description The words are of whoever asks. */
                        mine: boolean;
                        approval: {
                            by: string;
                            at: number;
                            holds: boolean;
                        } | null;
                        /**
                         * @description Who has to say yes before a post goes out: nobody, anybody, or somebody else than whose words they are.
                         * @enum {string}
                         */
                        approves: "nobody" | "anybody" | "another";
                        /** @description What people did to it, newest first. */
                        history: components["schemas"]["Done"][];
                    };
                };
            };
        };
    };
    changeWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    state: "idea" | "draft" | "ready";
                    post: components["schemas"]["WrittenPost"];
                    revision: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        revision: number;
                    };
                };
            };
        };
    };
    deleteWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    makeWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    state: "idea" | "draft" | "ready";
                    post: components["schemas"]["WrittenPost"];
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    importPosts: {
        parameters: {
            query: {
                /** @description What each column of the file says; by their names when left out. */
                map?: string;
                /** @description keep-good writes the rows without problems. */
                then: "show" | "keep-good";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/octet-stream": string;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        header: string[];
                        map: (("when" | "where" | "words" | "link" | "state") | null)[];
                        count: number;
                        bad: number;
                        /** @description Those with problems first, at most 300. */
                        rows: components["schemas"]["PostRow"][];
                        made: number;
                        /**
                         * @description Who has to say yes before a post goes out: nobody, anybody, or somebody else than whose words they are.
                         * @enum {string}
                         */
                        approves: "nobody" | "anybody" | "another";
                    };
                };
            };
        };
    };
    approveWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    revision: number;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    moveWritten: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    outlet: number | null;
                    to: number;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    keepApproval: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /**
                     * @description Who has to say yes before a post goes out: nobody, anybody, or somebody else than whose words they are.
                     * @enum {string}
                     */
                    by: "nobody" | "anybody" | "another";
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    readWorld: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                        timeZone: string;
                        locale: string;
                        policy?: {
                            rows: {
                                id: string;
                                kind?: "review" | "comment" | "mention" | "message";
                                outlet?: number;
                                leastStars?: number;
                                mostStars?: number;
                                tone?: "glad" | "plain" | "cross";
                                language?: string;
                                words?: string;
                                question?: boolean;
                                hours?: {
                                    from: string;
                                    to: string;
                                }[][];
                                does: "post" | "hold" | "ignore";
                            }[];
                            otherwise: "post" | "hold" | "ignore";
                            copyTo: number[];
                        };
                        things: components["schemas"]["WorldThing"][];
                    };
                };
            };
        };
    };
    listSheets: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        sheets: components["schemas"]["SheetInList"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    makeSheet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    name: string;
                    columns: components["schemas"]["SheetColumn"][];
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    openSheet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["OpenedSheet"];
                };
            };
        };
    };
    deleteSheet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    changeSheet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    revision: number;
                    name?: string;
                    columns?: components["schemas"]["SheetColumn"][];
                    views?: {
                        name: string;
                        sort: {
                            key: string;
                            down: boolean;
                        }[];
                        filter: components["schemas"]["Condition"] | null;
                        hidden: string[];
                    }[];
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["Sheet"];
                };
            };
        };
    };
    restoreSheet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    makeSheetFromFile: {
        parameters: {
            query: {
                name: string;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/octet-stream": string;
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                        rows: number;
                    };
                };
            };
        };
    };
    importIntoSheet: {
        parameters: {
            query: {
                /** @description The key for each column of the file; by their names when left out. */
                map?: string;
                /** @description keep adds every row, with what cannot be read as it was written; keep-good leaves such rows out. */
                then: "show" | "keep" | "keep-good";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/octet-stream": string;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        header: string[];
                        map: (string | null)[];
                        count: number;
                        bad: number;
                        /** @description Those with problems first, at most 300. */
                        rows: components["schemas"]["ImportRow"][];
                        added: number;
                        /** @description Live workflows that each new row may start, by name. */
                        starts: string[];
                    };
                };
            };
        };
    };
    exportSheet: {
        parameters: {
            query: {
                as: "csv" | "xlsx";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description It goes on. */
            200: {
                content: {
                    "text/csv": string;
                };
            };
        };
    };
    listSheetRows: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
                /** @description The `changes` of an earlier answer. */
                since?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        rows: components["schemas"]["SheetRow"][];
                        /** @description To hand on as `since`. */
                        changes: number;
                        /** @description Too much has changed since: ask for all of them. */
                        partly: boolean;
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    addSheetRows: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    rows: {
                        [key: string]: string | number | boolean | null;
                    }[];
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        rows: components["schemas"]["SheetRow"][];
                    };
                };
            };
        };
    };
    editSheetRows: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    edits: {
                        row: number;
                        cells: {
                            key: string;
                            before: string | number | boolean | null;
                            after: string | number | boolean | null;
                        }[];
                    }[];
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        rows: components["schemas"]["SheetRow"][];
                        conflicts: components["schemas"]["EditConflict"][];
                    };
                };
            };
        };
    };
    deleteSheetRows: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    rows: number[];
                    deleted: boolean;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        rows: components["schemas"]["SheetRow"][];
                    };
                };
            };
        };
    };
    openSheetRow: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
                row: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        row: components["schemas"]["SheetRow"];
                        history: components["schemas"]["RowDone"][];
                        runs: {
                            id: number;
                            workflowId: number;
                            workflow: string;
                            status: "new" | "waiting" | "held" | "done" | "stopped" | "cancelled";
                            dueAt: number | null;
                            changedAt: number;
                            trace: components["schemas"]["Trace"];
                        }[];
                    };
                };
            };
        };
    };
    findClipped: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    url: string;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        rows: components["schemas"]["SheetRow"][];
                    };
                };
            };
        };
    };
    listTablesElsewhere: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                        tables: components["schemas"]["TableElsewhere"][];
                    };
                };
            };
        };
    };
    previewSheetSync: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    outletId: number;
                    rules: components["schemas"]["SheetSyncRules"];
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["SheetSyncPreview"];
                };
            };
        };
    };
    keepSheetInStep: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    outletId: number;
                    rules: components["schemas"]["SheetSyncRules"];
                    /** @description What was seen; null where it was in step with nothing. */
                    revision: string | null;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    leaveSheetApart: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    sayOfSheetSync: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    paused?: boolean;
                    /**
                     * @description delete: missing rows are deleted on the other side too; again: they are written anew.
                     * @enum {string}
                     */
                    vanished?: "delete" | "again";
                    /** @description Remarks up to this moment, milliseconds since 1970. */
                    seen?: number;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    openDesk: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
                /** @description open: waits for an answer; later: put off; answered; left: ignored, deleted, or from before. */
                shelf?: "open" | "later" | "answered" | "left";
                kind?: "review" | "comment" | "mention" | "message";
                outlet?: number;
                stars?: number;
                tone?: "glad" | "plain" | "cross";
                language?: string;
                label?: string;
                assigned?: number;
                words?: string;
                /** @description Left out: the oldest first where they wait, else the newest. */
                order?: "oldest" | "newest" | "atRisk";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["Desk"];
                };
            };
        };
    };
    openDeskEntry: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                item: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description Everything they wrote, oldest first. */
                        conversation: components["schemas"]["DeskEntry"][];
                        contact: components["schemas"]["Contact"] | null;
                        /** @description What workflows did with them, newest first. */
                        done: {
                            workflow: string;
                            workflowId: number;
                            action: string;
                            text: string;
                            url: string | null;
                            at: number;
                        }[];
                        /** @description What colleagues did, newest first. */
                        history: components["schemas"]["Done"][];
                        entry: components["schemas"]["DeskEntry"];
                    };
                };
            };
        };
    };
    openContact: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                contact: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description Everything they wrote, oldest first. */
                        conversation: components["schemas"]["DeskEntry"][];
                        contact: components["schemas"]["Contact"] | null;
                        /** @description What workflows did with them, newest first. */
                        done: {
                            workflow: string;
                            workflowId: number;
                            action: string;
                            text: string;
                            url: string | null;
                            at: number;
                        }[];
                        /** @description What colleagues did, newest first. */
                        history: components["schemas"]["Done"][];
                    };
                };
            };
        };
    };
    eraseContact: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                contact: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        forgotten: number;
                    };
                };
            };
        };
    };
    noteContact: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                contact: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    labels?: {
                        /** @default [] */
                        add?: string[];
                        /** @default [] */
                        remove?: string[];
                    };
                    notes?: {
                        text: string;
                        /** @description Of what was seen. 409 with the present one as `current` where somebody has changed it since. */
                        revision: string;
                    };
                    /** @description Why; null to write to them again. */
                    leftAlone?: string | null;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["Contact"];
                };
            };
        };
    };
    exportContact: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                contact: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        exportedAt: number;
                        contact: components["schemas"]["Contact"];
                        wrote: {
                            kind: "review" | "comment" | "mention" | "message";
                            at: number;
                            place: string;
                            text: string;
                            stars: number | null;
                            link: string;
                            answer: string | null;
                            answeredAt: number | null;
                        }[];
                        done: {
                            workflow: string;
                            action: string;
                            text: string;
                            at: number;
                        }[];
                    };
                };
            };
        };
    };
    sendAnswers: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    answers: {
                        itemId: number;
                        text: string;
                        held: {
                            runId: number;
                            key: string;
                        } | null;
                        /** @description What whoever answers has seen: it is refused when that has changed. */
                        seen: {
                            text: string;
                            answered: boolean;
                        };
                    }[];
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            202: {
                content: {
                    "application/json": {
                        dueAt: number;
                        refused: {
                            itemId: number;
                            why: string;
                        }[];
                    };
                };
            };
        };
    };
    callAnswersBack: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    items: number[];
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        back: number[];
                    };
                };
            };
        };
    };
    tendDesk: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    items: number[];
                    tend: {
                        /** @constant */
                        do: "ignore";
                    } | {
                        /** @constant */
                        do: "reopen";
                    } | {
                        /** @constant */
                        do: "snooze";
                        until: number;
                    } | {
                        /** @constant */
                        do: "assign";
                        to: number | null;
                    } | {
                        /** @constant */
                        do: "keep";
                        text: string;
                    };
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        done: number[];
                    };
                };
            };
        };
    };
    openForAnswering: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                item: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    open: boolean;
                    /** @description Also when a colleague has it open. */
                    over?: boolean;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        openedBy: {
                            id: number;
                            name: string;
                        } | null;
                    };
                };
            };
        };
    };
    lookForDesk: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        woken: number;
                    };
                };
            };
        };
    };
    listDeskSources: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                        sources: {
                            outletId: number;
                            outlet: string;
                            account: string;
                            what: string;
                            kind: "review" | "comment" | "mention" | "message";
                            listens: boolean;
                            /** @description A workflow listens there, so that it comes to the desk anyway. */
                            used: boolean;
                        }[];
                    };
                };
            };
        };
    };
    setDeskSource: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    outletId: number;
                    what: string;
                    listens: boolean;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    openPolicy: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        policy: {
                            rows: {
                                id: string;
                                kind?: "review" | "comment" | "mention" | "message";
                                outlet?: number;
                                leastStars?: number;
                                mostStars?: number;
                                tone?: "glad" | "plain" | "cross";
                                language?: string;
                                words?: string;
                                question?: boolean;
                                hours?: {
                                    from: string;
                                    to: string;
                                }[][];
                                does: "post" | "hold" | "ignore";
                            }[];
                            otherwise: "post" | "hold" | "ignore";
                            copyTo: number[];
                        };
                        revision: string;
                        /** @description Nobody has said anything yet: this is what is usual. */
                        usual: boolean;
                        outlets: {
                            id: number;
                            name: string;
                        }[];
                        members: {
                            id: number;
                            name: string;
                        }[];
                    };
                };
            };
        };
    };
    keepPolicy: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    policy: {
                        rows: {
                            id: string;
                            kind?: "review" | "comment" | "mention" | "message";
                            outlet?: number;
                            leastStars?: number;
                            mostStars?: number;
                            tone?: "glad" | "plain" | "cross";
                            language?: string;
                            words?: string;
                            question?: boolean;
                            hours?: {
                                from: string;
                                to: string;
                            }[][];
                            does: "post" | "hold" | "ignore";
                        }[];
                        otherwise: "post" | "hold" | "ignore";
                        copyTo: number[];
                    };
                    /** @description Of what was seen. 409 with the present one as `current` where somebody has changed it since. */
                    revision: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    tryPolicy: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    policy: {
                        rows: {
                            id: string;
                            kind?: "review" | "comment" | "mention" | "message";
                            outlet?: number;
                            leastStars?: number;
                            mostStars?: number;
                            tone?: "glad" | "plain" | "cross";
                            language?: string;
                            words?: string;
                            question?: boolean;
                            hours?: {
                                from: string;
                                to: string;
                            }[][];
                            does: "post" | "hold" | "ignore";
                        }[];
                        otherwise: "post" | "hold" | "ignore";
                        copyTo: number[];
                    };
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        counts: {
                            post: number;
                            hold: number;
                            ignore: number;
                        };
                        tried: {
                            itemId: number;
                            person: string;
                            outletId: number | null;
                            stars: number | null;
                            text: string;
                            saidAt: number;
                            does: "post" | "hold" | "ignore";
                            says: string;
                            row: string | null;
                            /**
                             * @description What the policy of now says.
                             * @enum {string}
                             */
                            was: "post" | "hold" | "ignore";
                        }[];
                    };
                };
            };
        };
    };
    openVoice: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        voice: {
                            tone: string;
                            does: string[];
                            never: string[];
                            signOff: string;
                            languages: string[];
                            longest: number;
                            facts: string[];
                            promises: string;
                            places: {
                                outlet: number;
                                name?: string;
                                tone?: string;
                                signOff?: string;
                                facts?: string[];
                            }[];
                        };
                        revision: string;
                        /** @description As it is as long as nobody has said anything. */
                        usual: {
                            tone: string;
                            does: string[];
                            never: string[];
                            signOff: string;
                            languages: string[];
                            longest: number;
                            facts: string[];
                            promises: string;
                            places: {
                                outlet: number;
                                name?: string;
                                tone?: string;
                                signOff?: string;
                                facts?: string[];
                            }[];
                        };
                        /** @description Where it answers. */
                        outlets: {
                            id: number;
                            name: string;
                        }[];
                        /** @description The text models it can ask. */
                        models: {
                            id: number;
                            name: string;
                        }[];
                    };
                };
            };
        };
    };
    keepVoice: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    voice: {
                        tone: string;
                        does: string[];
                        never: string[];
                        signOff: string;
                        languages: string[];
                        longest: number;
                        facts: string[];
                        promises: string;
                        places: {
                            outlet: number;
                            name?: string;
                            tone?: string;
                            signOff?: string;
                            facts?: string[];
                        }[];
                    };
                    /** @description Of what was seen. 409 with the present one as `current` where somebody has changed it since. */
                    revision: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    tryDraft: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @description The text model. */
                    outlet: number;
                    input: {
                        instruction: string;
                        about: string;
                        longest: number;
                        variety: number;
                        seed: number;
                        count?: number;
                        answers?: {
                            kind: "review" | "comment" | "mention" | "message";
                            id: string;
                            text: string;
                            stars: number | null;
                            person: string;
                            network: string;
                            name: string;
                            outlet: number | null;
                            under: string;
                        };
                        again?: {
                            text: string;
                            because: string[];
                        };
                    };
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        text: string;
                        others?: string[];
                        faults?: string[];
                        used?: number;
                    };
                };
            };
        };
    };
    draftAnswer: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                item: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @description The first that the brand has when left out. */
                    model?: number;
                    /** @default  */
                    instruction?: string;
                    /**
                     * @description Drafts before it: another is wanted.
                     * @default 0
                     */
                    before?: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        text: string;
                        others?: string[];
                        faults?: string[];
                        used?: number;
                        model: string;
                    };
                };
            };
        };
    };
    openDeskNumbers: {
        parameters: {
            query?: {
                weeks?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["DeskNumbers"];
                };
            };
        };
    };
    listViews: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                place: "desk" | "logbook" | "people";
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        views: components["schemas"]["KeptView"][];
                    };
                };
            };
        };
    };
    keepView: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                place: "desk" | "logbook" | "people";
                name: string;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @description Filters, as the address of the list has them. */
                    query: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    dropView: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                place: "desk" | "logbook" | "people";
                name: string;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    listContacts: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
                words?: string;
                label?: string;
                network?: string;
                only?: "waiting" | "alone";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        contacts: {
                            id: number;
                            name: string;
                            network: string;
                            labels: string[];
                            lastAt: number;
                            lastText: string;
                            /** @description How much of what they wrote waits for an answer. */
                            waiting: number;
                            leftAlone: boolean;
                        }[];
                        labels: {
                            label: string;
                            count: number;
                        }[];
                        /** @description Words by which somebody asks not to be written to any more. */
                        stopWords: string;
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    mergeContacts: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                contact: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @description Who becomes one with them. */
                    other: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["Contact"];
                };
            };
        };
    };
    separateContacts: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                contact: number;
                other: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["Contact"];
                };
            };
        };
    };
    setStopWords: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    words: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    readLogbook: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
                /** @description Words, or beginnings of words, all of which it says. */
                words?: string;
                outlet?: number;
                workflow?: number;
                /** @description Acts, with commas between. */
                actions?: string;
                from?: number;
                to?: number;
                changed?: "edited" | "deleted";
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        entries: components["schemas"]["LogbookEntry"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    openLogbook: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        outlets: components["schemas"]["LogbookOutlet"][];
                        workflows: {
                            id: number;
                            name: string;
                        }[];
                    };
                };
            };
        };
    };
    exportLogbook: {
        parameters: {
            query: {
                /** @description Words, or beginnings of words, all of which it says. */
                words?: string;
                outlet?: number;
                workflow?: number;
                /** @description Acts, with commas between. */
                actions?: string;
                from?: number;
                to?: number;
                changed?: "edited" | "deleted";
                as: "csv" | "xlsx";
                /** @description Some of when, act, where, words, card, address, workflow, since, with commas between. */
                columns?: string;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description It goes on. */
            200: {
                content: {
                    "text/csv": string;
                };
            };
        };
    };
    openLogbookStory: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                key: string;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description Null once that is no longer kept. */
                        story: {
                            asked: number;
                            planned: number | null;
                            tries: {
                                at: number;
                                kind: "retry" | "wait" | "unknown" | "reconnect" | "fix";
                                says: string;
                            }[];
                        } | null;
                        done: {
                            id: number;
                            by: string | null;
                            did: string;
                            became: string | null;
                            at: number;
                        }[];
                    };
                };
            };
        };
    };
    listUntidy: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        posts: components["schemas"]["UntidyPost"][];
                    };
                };
            };
        };
    };
    openFeed: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        feed: {
                            atom: string;
                            json: string;
                        } | null;
                    };
                };
            };
        };
    };
    setFeed: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    on: boolean;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        feed: {
                            atom: string;
                            json: string;
                        } | null;
                    };
                };
            };
        };
    };
    listWorkflows: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        workflows: components["schemas"]["ListedWorkflow"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    addWorkflow: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    name: string;
                    definition: components["schemas"]["Definition"];
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    openWorkflow: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": components["schemas"]["OpenedWorkflow"];
                };
            };
        };
    };
    deleteWorkflow: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    saveDraft: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    name: string;
                    definition: components["schemas"]["Definition"];
                    revision: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        revision: number;
                    };
                };
            };
        };
    };
    goLive: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    revision: number;
                    /** @default 0 */
                    last?: number;
                    /**
                     * @description Everything published from this moment on.
                     * @default null
                     */
                    since?: number | null;
                    /**
                     * @description Minutes between two.
                     * @default 10
                     */
                    every?: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        version: number;
                    };
                };
            };
        };
    };
    pauseWorkflow: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    listBusyItems: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        items: number[];
                    };
                };
            };
        };
    };
    listMissed: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        pausedAt: number | null;
                        missed: {
                            id: number;
                            title: string;
                            at: number;
                        }[];
                    };
                };
            };
        };
    };
    resumeWorkflow: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /**
                     * @default none
                     * @enum {string}
                     */
                    take?: "all" | "last" | "since" | "none";
                    /** @default 0 */
                    last?: number;
                    /** @default null */
                    since?: number | null;
                    /**
                     * @description Minutes between two.
                     * @default 0
                     */
                    every?: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        taken: number;
                    };
                };
            };
        };
    };
    takeItem: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    item: number;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        taken: number;
                    };
                };
            };
        };
    };
    listRuns: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        counts: components["schemas"]["RunCounts"];
                        runs: components["schemas"]["Run"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    decide: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    key: string;
                    decision: {
                        /** @constant */
                        do: "retry";
                        text?: string;
                        input?: unknown;
                    } | {
                        /** @constant */
                        do: "end";
                    } | {
                        /** @constant */
                        do: "skip";
                    } | {
                        /** @constant */
                        do: "itWentOut";
                        /** Format: uri */
                        url?: string;
                    };
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    tryRunAgain: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    cancelRun: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    previewRerun: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
                step: string;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        sent: {
                            step: string;
                            action: string;
                            outlet: string | null;
                            at: number;
                            url: string | null;
                        }[];
                    };
                };
            };
        };
    };
    rerun: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    from: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    countOpenRuns: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        new: number;
                        waiting: number;
                        held: number;
                        backfill: number;
                        /** @description On an older version. */
                        old: number;
                    };
                };
            };
        };
    };
    moveRuns: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        moved: number;
                        kept: number;
                    };
                };
            };
        };
    };
    dropBackfill: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        dropped: number;
                    };
                };
            };
        };
    };
    listSources: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        watches: components["schemas"]["Watch"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    listWatchable: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description Channels of connected accounts: chosen, not pasted. */
                        channels: components["schemas"]["Outlet"][];
                        watchable: components["schemas"]["WatchableOutlet"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    wakeSources: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    watches: number[];
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        woken: number;
                    };
                };
            };
        };
    };
    renameSourceField: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    from: string;
                    to: string;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        workflows: number;
                        items: number;
                    };
                };
            };
        };
    };
    listItems: {
        parameters: {
            query: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
                watches: string;
                /** @description The `until` of an earlier answer: only what appeared or changed since comes, in no order. */
                since?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        items: components["schemas"]["Item"][];
                        /** @description To hand on as `since`. */
                        until: number;
                        /** @description Too much has changed since: these are the newest, as if asked anew. */
                        partly: boolean;
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    findSource: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    text: string;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        found: ({
                            key: string;
                            /** @constant */
                            kind: "feed";
                            params: {
                                url: string;
                            } & {
                                [key: string]: unknown;
                            };
                            name: string;
                            things: string;
                            newest: {
                                identity: string;
                                publishedAt: number | null;
                                fields: components["schemas"]["Fields"];
                            }[];
                        } & {
                            [key: string]: unknown;
                        }) | null;
                        tried: {
                            address: string;
                            says: string;
                        }[];
                    };
                };
            };
        };
    };
    watchFeed: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    /** Format: uri */
                    url: string;
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    exportFeeds: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description It goes on. */
            200: {
                content: {
                    "text/x-opml": string;
                };
            };
        };
    };
    watchFeeds: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    text: string;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        feeds: {
                            name: string;
                            url: string;
                            /** @description Null when it cannot be watched. */
                            watch: number | null;
                            says: string | null;
                        }[];
                    };
                };
            };
        };
    };
    watchOutlet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    outlet: number;
                    what: string;
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    makeHook: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    name: string;
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    makeSchedule: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    rule: string;
                    start: string;
                    name: string;
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    previewSchedule: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    rule: string;
                    start: string;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        says: string;
                        next: number[];
                    };
                };
            };
        };
    };
    openHook: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        address: string;
                        oldUntil: number | null;
                        signed: boolean;
                        identityField: string | null;
                        schema: components["schemas"]["LearnedSchemaOutput"] | null;
                        /** @description Of the schema: a change of it carries it. */
                        revision: string | null;
                        names: {
                            [key: string]: string;
                        };
                        deliveries: {
                            id: number;
                            receivedAt: number;
                            readAt: number | null;
                            test: boolean;
                            trouble: string | null;
                            body: string;
                        }[];
                    };
                };
            };
        };
    };
    changeHook: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    identityField?: string | null;
                    signed?: boolean;
                    newAddress?: boolean;
                    oldAddress?: boolean;
                    schema?: components["schemas"]["LearnedSchema"];
                    /** @description Of the schema that is changed. */
                    revision?: string | null;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @description To sign with; answered this once. */
                        secret: string | null;
                    };
                };
            };
        };
    };
    testHook: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    body: components["schemas"]["Fields"];
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    listAccounts: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        accounts: components["schemas"]["Account"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    listNetworks: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        networks: components["schemas"]["Network"][];
                    };
                };
            };
        };
    };
    beginConnect: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    kind: components["schemas"]["NetworkKind"];
                    backTo: string;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        url: string;
                    };
                };
            };
        };
    };
    connectByForm: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    kind: components["schemas"]["NetworkKind"];
                    values: {
                        [key: string]: string;
                    };
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    openOutlet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    address: string;
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    createOutlet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    what: string;
                    values: {
                        [key: string]: string;
                    };
                };
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        id: number;
                    };
                };
            };
        };
    };
    renameAccount: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    name: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    refreshOutlets: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    disconnectAccount: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    checkOutlet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        /** @constant */
                        ok: true;
                    } | {
                        /** @constant */
                        ok: false;
                        trouble: string;
                        remedy: string;
                    };
                };
            };
        };
    };
    sendTestPost: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        ticket: string;
                        url: string | null;
                        removable: boolean;
                    };
                };
            };
        };
    };
    removeTestPost: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
                ticket: string;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    tryCall: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
                    url: string;
                    headers: {
                        name: string;
                        value?: string;
                        secret?: string;
                    }[];
                    body: {
                        type: "json" | "form";
                        text: string;
                    } | null;
                    keyed: boolean;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        status: number;
                        body: components["schemas"]["FieldValue"];
                    };
                };
            };
        };
    };
    listSecrets: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        secrets: {
                            name: string;
                            changedAt: number;
                        }[];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    keepSecret: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                name: string;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    value: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    deleteSecret: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                name: string;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    listSnippets: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        snippets: components["schemas"]["SnippetWithUses"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    previewSnippetChange: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                name: string;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    text: string | null;
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        changes: components["schemas"]["SnippetChange"][];
                    };
                };
            };
        };
    };
    keepSnippet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                name: string;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    text: string;
                    rename?: string;
                    /** @description Of what was seen; null for a new one. */
                    revision: string | null;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    deleteSnippet: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                name: string;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    listFiles: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        files: components["schemas"]["FileWithUses"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    addFile: {
        parameters: {
            query: {
                name: string;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        requestBody: {
            content: {
                "application/octet-stream": string;
            };
        };
        responses: {
            /** @description Made. */
            201: {
                content: {
                    "application/json": {
                        file: components["schemas"]["FileWithUses"];
                    };
                };
            };
        };
    };
    describeFile: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    name: string;
                    alt: string;
                    /** @description Of what was seen. 409 with the present one as `current` where somebody has changed it since. */
                    revision: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    deleteFile: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    saidLately: {
        parameters: {
            query: {
                outlets: string;
                except?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        posts: {
                            outlet: number;
                            text: string;
                        }[];
                    };
                };
            };
        };
    };
    listPostEdits: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                key: string;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        text: string;
                        edits: components["schemas"]["PostEdit"][];
                    };
                };
            };
        };
    };
    editPost: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                key: string;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    text: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    deletePost: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                key: string;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    pinPost: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                key: string;
            };
        };
        requestBody: {
            content: {
                "application/json": {
                    on: boolean;
                };
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    previewLink: {
        parameters: {
            query: {
                url: string;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        preview: {
                            title: string;
                            description: string;
                            image: string | null;
                            site: string;
                            /** @description Who made it; empty where nobody says. */
                            author: string;
                        } | null;
                    };
                };
            };
        };
    };
    listNotices: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        notices: components["schemas"]["Notice"][];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
    putNoticeAway: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    putAsideAway: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
                id: number;
            };
        };
        responses: {
            /** @description Done. */
            204: void;
        };
    };
    readAudit: {
        parameters: {
            query?: {
                /** @description The `next` of the page before. */
                after?: string;
                most?: number;
                about?: "run" | "workflow" | "post" | "written post" | "desk" | "contact" | "sheet" | "source" | "account" | "outlet" | "snippet" | "secret" | "file" | "brand";
                /** @description A colleague’s number, `workflows`, or `playa` for what it did by itself. */
                by?: ("workflows" | "playa") | number;
                /** @description From this moment, milliseconds since 1970. */
                from?: number;
                /** @description Before this moment, milliseconds since 1970. */
                to?: number;
            };
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                content: {
                    "application/json": {
                        entries: components["schemas"]["AuditEntry"][];
                        /** @description Colleagues, to filter by. */
                        people: {
                            id: number;
                            name: string;
                        }[];
                        /** @description To hand on as `after` for the next page; null on the last one. */
                        next: string | null;
                    };
                };
            };
        };
    };
}
