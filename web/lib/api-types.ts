// Made by `npm run api-types` from the endpoints in server/http/endpoints. Not changed by hand.
import type { FieldValue } from '@playa/core/items/item.ts';
import type { Fields } from '@playa/core/items/item.ts';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import type { Group } from '@playa/core/conditions/condition.ts';
import type { Step } from '@playa/core/steps/step.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Trace } from '@playa/core/model/cells.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import type { ActName } from '@playa/core/model/acts.ts';

export interface paths {
    "/me": {
        /** Who is signed in, which brands are theirs, and the token that changes carry. */
        get: operations["whoAmI"];
    };
    "/sign-out/everywhere": {
        /** Ends every session of whoever asks, on all devices. */
        post: operations["signOutEverywhere"];
    };
    "/brands/{brand}/events": {
        /** What changes in the brand, as server-sent events (HTML, section 9.2), for fetching it anew. */
        get: operations["listen"];
    };
    "/oauth/callback": {
        /** Where a network sends a person back to; leads on to the interface. */
        get: operations["finishConnect"];
    };
    "/oauth/trouble/{token}": {
        /** The words of a trouble that this server itself put into an address. */
        get: operations["readTrouble"];
    };
    "/brands/{brand}/today": {
        /** What needs a person, what went out and what comes, and what appeared. */
        get: operations["openToday"];
    };
    "/brands/{brand}/workflows": {
        /** The brand’s workflows, each in a sentence, with how it stands. */
        get: operations["listWorkflows"];
        /** Makes a draft. */
        post: operations["addWorkflow"];
    };
    "/brands/{brand}/workflows/{id}": {
        /** A workflow with its draft, what is live, and what it refers to. */
        get: operations["openWorkflow"];
        /** Deletes a draft that has never been live. */
        delete: operations["deleteWorkflow"];
    };
    "/brands/{brand}/workflows/{id}/draft": {
        /** Saves a draft over the revision it was made from; 409 with the present one when it was changed meanwhile. */
        put: operations["saveDraft"];
    };
    "/brands/{brand}/workflows/{id}/live": {
        /** Lets a draft go live, or applies it, beginning with a part of the past. */
        post: operations["goLive"];
    };
    "/brands/{brand}/workflows/{id}/pause": {
        /** Pauses a live workflow: nothing more goes out, and what appears is kept. */
        post: operations["pauseWorkflow"];
    };
    "/brands/{brand}/workflows/{id}/busy": {
        /** Things at its sources that a run of any workflow is about: none of them is taken by another. */
        get: operations["listBusyItems"];
    };
    "/brands/{brand}/workflows/{id}/missed": {
        /** What appeared while a workflow was paused, for choosing what it takes when it goes on. */
        get: operations["listMissed"];
    };
    "/brands/{brand}/workflows/{id}/resume": {
        /** Lets a paused workflow go on, with a part of what appeared meanwhile. */
        post: operations["resumeWorkflow"];
    };
    "/brands/{brand}/workflows/{id}/take": {
        /** Has a live workflow take something that no workflow took. */
        post: operations["takeItem"];
    };
    "/brands/{brand}/workflows/{id}/runs": {
        /** A workflow’s runs: those that wait for something first, then the newest. */
        get: operations["listRuns"];
    };
    "/brands/{brand}/runs/{id}/decide": {
        /** Says what happens to something that is held. */
        post: operations["decide"];
    };
    "/brands/{brand}/runs/{id}/again": {
        /** Has a run that Playa could not take further tried again. */
        post: operations["tryRunAgain"];
    };
    "/brands/{brand}/runs/{id}/cancel": {
        /** Ends a run; what is not sent yet is not sent. */
        post: operations["cancelRun"];
    };
    "/brands/{brand}/runs/{id}/rerun/{step}": {
        /** What running again from a step would send a second time. */
        get: operations["previewRerun"];
    };
    "/brands/{brand}/runs/{id}/rerun": {
        /** Runs again from a step that the run had reached. */
        post: operations["rerun"];
    };
    "/brands/{brand}/workflows/{id}/open": {
        /** How many runs of a workflow have not ended, by how they stand. */
        get: operations["countOpenRuns"];
    };
    "/brands/{brand}/workflows/{id}/move": {
        /** Brings open runs to the newest version, where it has the step they stand at. */
        post: operations["moveRuns"];
    };
    "/brands/{brand}/workflows/{id}/backfill": {
        /** Lets go of what is still to come of the past that the workflow began with. */
        delete: operations["dropBackfill"];
    };
    "/brands/{brand}/sources": {
        /** The brand’s sources, and what could be watched. */
        get: operations["listSources"];
    };
    "/brands/{brand}/sources/find": {
        /** Finds what can be watched in something a person has pasted. */
        post: operations["findSource"];
    };
    "/brands/{brand}/sources/watch": {
        /** Watches what is found at an address: found again, rather than taken from the browser’s word. */
        post: operations["watchFeed"];
    };
    "/brands/{brand}/sources/wake": {
        /** Has sources looked at that somebody has open and no live workflow uses. */
        post: operations["wakeSources"];
    };
    "/brands/{brand}/sources/network": {
        /** Watches what only a sign-in can see: comments, reviews, rows. */
        post: operations["watchOutlet"];
    };
    "/brands/{brand}/sources/hook": {
        /** Makes a web hook: an address that others tell Playa at. */
        post: operations["makeHook"];
    };
    "/brands/{brand}/sources/schedule": {
        /** Makes a source of moments that come by a rule (RFC 5545 section 3.3.10). */
        post: operations["makeSchedule"];
    };
    "/brands/{brand}/sources/schedule/preview": {
        /** Says a rule in words, with the next five moments. */
        post: operations["previewSchedule"];
    };
    "/brands/{brand}/sources/{id}/rename": {
        /** Gives a field of a source another name, in its items and wherever it is used. */
        post: operations["renameSourceField"];
    };
    "/brands/{brand}/items": {
        /** The newest items of some sources, newest first; or those that appeared or changed since an earlier answer. */
        get: operations["listItems"];
    };
    "/brands/{brand}/sources/{id}/hook": {
        /** A web hook with its secret address, what is known of what comes, and the newest ten deliveries. */
        get: operations["openHook"];
        /** Changes a web hook: its identity field, its schema, whether it is signed, its address. */
        post: operations["changeHook"];
    };
    "/brands/{brand}/sources/{id}/hook/test": {
        /** Sends a web hook something, marked as a test. */
        post: operations["testHook"];
    };
    "/brands/{brand}/accounts": {
        /** The kinds of network that can be reached, and the brand’s accounts with their outlets. */
        get: operations["listAccounts"];
    };
    "/brands/{brand}/accounts/connect": {
        /** Where a person goes to let Playa in at a network. */
        post: operations["beginConnect"];
    };
    "/brands/{brand}/accounts/form": {
        /** Connects an account with what its network gives out: a token, a name and a password. */
        post: operations["connectByForm"];
    };
    "/brands/{brand}/accounts/{id}/outlets": {
        /** Adds an outlet by its address. */
        post: operations["openOutlet"];
    };
    "/brands/{brand}/accounts/{id}/create": {
        /** Has an outlet made at the network: a board, a table. */
        post: operations["createOutlet"];
    };
    "/brands/{brand}/accounts/{id}": {
        /** Gives an account another name. */
        patch: operations["renameAccount"];
    };
    "/brands/{brand}/accounts/{id}/refresh": {
        /** Asks the network again which outlets there are. */
        post: operations["refreshOutlets"];
    };
    "/brands/{brand}/accounts/{id}/disconnect": {
        /** Forgets what lets Playa in; what would be sent waits. */
        post: operations["disconnectAccount"];
    };
    "/brands/{brand}/outlets/{id}/check": {
        /** Looks whether Playa may publish at an outlet, and says what is missing. */
        post: operations["checkOutlet"];
    };
    "/brands/{brand}/outlets/{id}/test": {
        /** Sends a post that says it is a test. */
        post: operations["sendTestPost"];
    };
    "/brands/{brand}/outlets/{id}/test/{ticket}": {
        /** Takes a test away again. */
        delete: operations["removeTestPost"];
    };
    "/brands/{brand}/calls/try": {
        /** Sends one request of a Call, really, and answers with what came back. */
        post: operations["tryCall"];
    };
    "/brands/{brand}/secrets": {
        /** The names of the secrets; what they hold is never answered. */
        get: operations["listSecrets"];
    };
    "/brands/{brand}/secrets/{name}": {
        /** Keeps a secret under a name, or replaces what it holds. */
        put: operations["keepSecret"];
        /** Forgets a secret. */
        delete: operations["deleteSecret"];
    };
    "/brands/{brand}/snippets": {
        /** The brand’s snippets, with where they are used. */
        get: operations["listSnippets"];
    };
    "/brands/{brand}/snippets/{name}/changes": {
        /** What would be said with other words in a snippet. Nothing is kept. */
        post: operations["previewSnippetChange"];
    };
    "/brands/{brand}/snippets/{name}": {
        /** Keeps a snippet, under another name where one is given: every wording that uses it goes on using it. */
        put: operations["keepSnippet"];
        /** Deletes a snippet that no live workflow uses. */
        delete: operations["deleteSnippet"];
    };
    "/brands/{brand}/files": {
        /** The brand’s own pictures and films, with where they are used. */
        get: operations["listFiles"];
        /** Takes a picture or film: the bytes are the body, so that a film need not be in memory as a whole. */
        post: operations["addFile"];
    };
    "/brands/{brand}/files/{id}": {
        /** Names a file and says what it shows. */
        put: operations["describeFile"];
        /** Deletes a file that no live workflow sends. */
        delete: operations["deleteFile"];
    };
    "/brands/{brand}/posts/lately": {
        /** What other workflows said at some outlets in the last 90 days, newest first, at most 40 at each. */
        get: operations["saidLately"];
    };
    "/brands/{brand}/posts/{key}/edits": {
        /** What a post says now, and how it was edited or deleted, newest first. */
        get: operations["listPostEdits"];
        /** Edits a post at its network, and keeps what it said before. */
        post: operations["editPost"];
    };
    "/brands/{brand}/posts/{key}": {
        /** Deletes a post at its network. That it was out, and what it said, stays known. */
        delete: operations["deletePost"];
    };
    "/brands/{brand}/link-preview": {
        /** What the page at an address says of itself; null when it says nothing or cannot be had. */
        get: operations["previewLink"];
    };
    "/brands/{brand}/notices": {
        /** What the person who is signed in has been told, newest first, at most 50. */
        get: operations["listNotices"];
    };
    "/brands/{brand}/notices/{id}/away": {
        /** The person has read a notice. */
        post: operations["putNoticeAway"];
    };
    "/brands/{brand}/aside/{id}/away": {
        /** A person has seen what Playa could not take. */
        post: operations["putAsideAway"];
    };
}
export type webhooks = Record<string, never>;
export interface components {
    schemas: {
        /** @description What a workflow does. */
        Definition: Definition;
        Condition: Group;
        Step: Step;
        FieldValue: FieldValue;
        LearnedSchema: JsonSchema;
        /** @description The fields of an item by name. */
        Fields: Fields;
        /** @enum {string} */
        NetworkKind: NetworkKind;
        Brand: {
            id: number;
            name: string;
            timeZone: string;
            locale: string;
            /** @enum {string} */
            role: "member";
        };
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
        Today: {
            now: number;
            notices: components["schemas"]["Notice"][];
            aside: components["schemas"]["SetAside"][];
            /** @description How much waits for a person in all; `held` shows what has waited longest. */
            waits: number;
            held: components["schemas"]["Held"][];
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
            /** @enum {string} */
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
            trouble: ("empty" | "too-long" | "no-outlet" | "failed" | "unknown" | "asks" | "none" | "several" | "outdated" | "date") | "run";
            /** @description Which part of it is at fault, where that is known. */
            fault: ("words" | "title" | "shape") | null;
            /** @description What is decided waits until its workflow goes on. */
            paused: boolean;
            /** @description What it would answer is answered by now. */
            answered: boolean;
        };
        /** @enum {string} */
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
        /** @enum {string} */
        WorkflowStatus: "draft" | "live" | "paused";
        /** @description A sentence whose names of things are marked. */
        Phrase: (string | {
            name: string;
            /** @enum {string} */
            kind: "outlet" | "watch";
            id: number;
        })[];
        WorthALook: {
            /** @enum {string} */
            level: "harm" | "advice";
            step: string | null;
            says: string;
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
            /** @description The other live workflows of the brand. */
            beside: components["schemas"]["Beside"][];
            world: components["schemas"]["World"];
        };
        Beside: {
            id: number;
            name: string;
            definition: components["schemas"]["DefinitionOutput"];
        };
        /** @description What a definition refers to by number, and the brand’s customs. */
        World: {
            timeZone: string;
            locale: string;
            outlets: components["schemas"]["WorldOutlet"][];
            watches: components["schemas"]["WorldWatch"][];
            colleagues: {
                id: number;
                name: string;
            }[];
            readonly secrets?: string[];
            snippets: {
                name: string;
                text: string;
            }[];
            files: components["schemas"]["BrandFile"][];
        };
        WorldOutlet: {
            id: number;
            kind: components["schemas"]["OutletKind"];
            name: string;
            accountId: number;
            readonly acts?: components["schemas"]["ActName"][];
            details?: {
                columns?: {
                    name: string;
                    type: string;
                }[];
                groups?: {
                    id: string;
                    name: string;
                }[];
                within?: string;
                watchOnly?: boolean;
            };
            trouble?: string;
        };
        /** @enum {string} */
        ActName: ActName;
        WorldWatch: {
            id: number;
            name: string;
            things: string;
            outlet?: number;
            internal?: boolean;
            readonly shows?: number[];
        };
        BrandFile: {
            id: number;
            /** @enum {string} */
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
            /** @enum {string} */
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
                /** @enum {string} */
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
        /** @description The cells of a run by place. */
        Trace: Trace;
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
            /** @enum {string} */
            kind: "feed" | "hook" | "schedule" | "network";
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
            accountId: number;
            kind: components["schemas"]["OutletKind"];
            remoteId: string;
            name: string;
            address: string | null;
            feed: string | null;
            gone: boolean;
            details: {
                columns?: {
                    name: string;
                    type: string;
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
        Account: {
            id: number;
            brandId: number;
            kind: components["schemas"]["NetworkKind"];
            name: string;
            remoteId: string;
            remoteName: string;
            /** @enum {string} */
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
                /** @enum {string} */
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
        SnippetWithUses: {
            name: string;
            text: string;
            uses: components["schemas"]["Use"][];
        };
        /** @description A workflow that uses something of the brand’s own. */
        Use: {
            workflowId: number;
            workflow: string;
            steps: number;
            live: boolean;
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
            /** @enum {string} */
            type: "picture" | "video";
            name: string;
            alt: string;
            url: string;
            bytes: number | null;
            mediaType: string | null;
            width: number | null;
            height: number | null;
            seconds: number | null;
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
        /** @description What a workflow does. */
        DefinitionOutput: Definition;
        ConditionOutput: Group;
        StepOutput: Step;
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
    whoAmI: {
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
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
    signOutEverywhere: {
        responses: {
            /** @description Done. */
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Today"];
                };
            };
        };
    };
    listWorkflows: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        workflows: components["schemas"]["ListedWorkflow"][];
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        watches: components["schemas"]["Watch"][];
                        /** @description Channels of connected accounts: chosen, not pasted. */
                        channels: components["schemas"]["Outlet"][];
                        watchable: components["schemas"]["WatchableOutlet"][];
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        found: ({
                            key: string;
                            /** @constant */
                            kind: "feed";
                            params: {
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: number;
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        woken: number;
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        says: string;
                        next: number[];
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        address: string;
                        oldUntil: number | null;
                        signed: boolean;
                        identityField: string | null;
                        schema: components["schemas"]["LearnedSchemaOutput"] | null;
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
                };
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
        };
    };
    listAccounts: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        networks: components["schemas"]["Network"][];
                        accounts: components["schemas"]["Account"][];
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                    /** @enum {string} */
                    method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
                    url: string;
                    headers: {
                        name: string;
                        value?: string;
                        secret?: string;
                    }[];
                    body: {
                        /** @enum {string} */
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": unknown;
                };
            };
        };
    };
    listSecrets: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        secrets: {
                            name: string;
                            changedAt: number;
                        }[];
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
        };
    };
    listSnippets: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        snippets: components["schemas"]["SnippetWithUses"][];
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
                headers: {
                    [name: string]: unknown;
                };
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
                };
            };
        };
        responses: {
            /** @description Done. */
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
        };
    };
    listFiles: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        files: components["schemas"]["FileWithUses"][];
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
                headers: {
                    [name: string]: unknown;
                };
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
                };
            };
        };
        responses: {
            /** @description Done. */
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
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
                headers: {
                    [name: string]: unknown;
                };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        preview: {
                            title: string;
                            description: string;
                            image: string | null;
                            site: string;
                        } | null;
                    };
                };
            };
        };
    };
    listNotices: {
        parameters: {
            path: {
                /** @description The brand’s number. */
                brand: number;
            };
        };
        responses: {
            /** @description What was asked for. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        notices: components["schemas"]["Notice"][];
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
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
            204: {
                headers: {
                    [name: string]: unknown;
                };
            };
        };
    };
}
