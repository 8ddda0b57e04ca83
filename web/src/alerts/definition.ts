import type { Definition } from "./api";
import { type Hours, type HoursDraft, hoursDraft, hoursInWords, hoursOf } from "./hours";

export type Kind = "count" | "fewer" | "sequence" | "unfinished" | "measure" | "entry" | "unusual" | "restart";

const KINDS: Kind[] = ["count", "fewer", "sequence", "unfinished", "measure", "entry", "unusual", "restart"];
/** What no line tells by itself: of it some sorts are chosen, or all. */
const FOUND_OUT: Kind[] = ["unusual", "restart"];
export const foundOut = (kind: Kind) => FOUND_OUT.includes(kind);
export type Side = "above" | "below";

/** A rule as it is typed: what is empty is left out. */
export interface Draft extends HoursDraft {
	/** Of one that ships; empty for others. */
	id: string;
	name: string;
	severity: NonNullable<Definition["severity"]>;
	kind: Kind;
	find: string;
	/** Kinds of entries of the logbook, of what is unusual, or reasons of restarts. */
	kinds: string[];
	/** The least, of what is unusual. */
	priority: number;
	/** What comes then, of a sequence. */
	next: string;
	without: string;
	/** Joins the beginning of an operation and its end. */
	join: string;
	/** What is measured, such as p95(duration_ms). */
	of: string;
	side: Side;
	level: string;
	critical: string;
	back: string;
	lasting: string;
	times: number;
	within: string;
	by: string[];
	quiet: string;
	why: string;
	steps: string;
	owner: string;
	tags: string[];
	/** In which its hours are; empty for the zone of the page. */
	zone: string;
	/** Whether its alerts may be folded under others. */
	fold: boolean;
	/** The field with the machine; empty for the usual one. */
	attach: string;
}

export const EMPTY: Draft = {
	id: "",
	name: "",
	severity: "error",
	kind: "count",
	find: "",
	kinds: [],
	priority: 60,
	next: "",
	without: "",
	join: "",
	of: "",
	side: "above",
	level: "",
	critical: "",
	back: "",
	lasting: "",
	times: 1,
	within: "5min",
	by: ["host.name"],
	quiet: "",
	why: "",
	steps: "",
	owner: "",
	tags: [],
	...hoursDraft(undefined),
	zone: "",
	fold: true,
	attach: "",
};

export function read(definition: Definition): Draft {
	const { count, fewer, sequence, unfinished, measure, entry, unusual, restart } = definition.when;
	const often = sequence ?? entry ?? count;
	const shared = often ?? fewer ?? unfinished ?? measure ?? unusual ?? restart;
	const text = (value: string | number | undefined) => String(value ?? "");
	return {
		...EMPTY,
		id: definition.id ?? "",
		name: definition.name,
		severity: definition.severity ?? EMPTY.severity,
		kind: KINDS.find((kind) => definition.when[kind]) ?? "count",
		kinds: entry?.kinds ?? unusual?.of ?? restart?.of ?? [],
		priority: unusual?.priority ?? EMPTY.priority,
		find: sequence?.first ?? unfinished?.first ?? count?.find ?? fewer?.find ?? measure?.find ?? "",
		next: sequence?.then ?? unfinished?.then ?? "",
		join: unfinished?.join ?? "",
		of: measure?.of ?? "",
		side: measure?.below === undefined ? "above" : "below",
		level: text(measure?.above ?? measure?.below),
		critical: text(measure?.critical),
		back: text(measure?.back),
		lasting: measure?.for ?? "",
		without: sequence?.without ?? "",
		times: often?.at_least ?? fewer?.than ?? 1,
		within: shared?.within ?? EMPTY.within,
		by: shared?.by ?? [],
		quiet: definition.quiet ?? "",
		why: definition.why ?? "",
		steps: definition.steps ?? "",
		owner: definition.owner ?? "",
		tags: definition.tags ?? [],
		...hoursDraft(definition.hours),
		zone: definition.hours?.zone ?? "",
		fold: definition.fold ?? true,
		attach: definition.attach ?? "",
	};
}

const given = (values: Record<string, string>) =>
	Object.fromEntries(Object.entries(values).filter(([, value]) => value.trim() !== ""));

/** @param zone of hours that had none before */
export function write(draft: Draft, zone = "UTC"): Definition {
	const hours: Hours | undefined = hoursOf(draft, draft.zone || zone);
	const { find, times, within, by } = draft;
	const shared = { at_least: times, within, by };
	const of = draft.kinds.length > 0 ? { of: draft.kinds } : {};
	const conditions: Record<Kind, () => Definition["when"]> = {
		count: () => ({ count: { find, ...shared } }),
		fewer: () => ({ fewer: { find, than: times, within, by } }),
		unfinished: () => ({
			// biome-ignore lint/suspicious/noThenProperty: a part of a rule
			unfinished: { first: find, then: draft.next, join: draft.join, within, by },
		}),
		measure: () => ({
			measure: {
				find,
				of: draft.of,
				[draft.side]: draft.level,
				...given({ critical: draft.critical, back: draft.back, for: draft.lasting }),
				within,
				by,
			},
		}),
		entry: () => ({ entry: { kinds: draft.kinds, ...shared } }),
		unusual: () => ({ unusual: { ...of, priority: draft.priority, by } }) as Definition["when"],
		restart: () => ({ restart: { ...of, by } }),
		sequence: () => ({
			sequence: {
				first: find,
				// biome-ignore lint/suspicious/noThenProperty: a part of a rule
				then: draft.next,
				...given({ without: draft.without }),
				...shared,
			},
		}),
	};
	return {
		...(draft.id ? { id: draft.id } : {}),
		name: draft.name.trim() || proposedName(draft),
		severity: draft.severity,
		when: conditions[draft.kind](),
		...(hours && { hours }),
		...given({ quiet: draft.quiet, owner: draft.owner, why: draft.why, steps: draft.steps, attach: draft.attach }),
		...(draft.tags.length > 0 && { tags: draft.tags }),
		...(!draft.fold && { fold: false }),
	};
}

const NAMES: Partial<Record<Kind, string>> = { unusual: "Something unusual", restart: "Machine restarted" };

/** What it is called, where nothing is typed. */
export const proposedName = (draft: Draft) =>
	(NAMES[draft.kind] ?? (draft.kind === "entry" ? draft.kinds.join(", ") : draft.find)).slice(0, 80);

/** Whether enough is said to try it. */
export function complete(draft: Draft): boolean {
	if (foundOut(draft.kind)) return true;
	if (draft.kind === "entry") return draft.kinds.length > 0;
	const needs: Partial<Record<Kind, string[]>> = {
		sequence: [draft.next],
		unfinished: [draft.next, draft.join],
		measure: [draft.of, draft.level],
	};
	return [draft.find, ...(needs[draft.kind] ?? [])].every((text) => text.trim() !== "");
}

function conditionInWords(when: Definition["when"]): string {
	const { count, fewer, sequence, unfinished, measure, entry, unusual, restart } = when;
	const per = (by: string[] | undefined) => (by?.length ? ` per ${by.join(" and ")}` : "");
	if (unusual)
		return `unusual: ${unusual.of?.join(" or ") ?? "anything"}, priority ${unusual.priority ?? 40} or more${per(unusual.by)}`;
	if (restart) return `restarted: ${restart.of?.join(" or ") ?? "for any reason"}${per(restart.by)}`;
	if (unfinished)
		return `${unfinished.first}, and no ${unfinished.then} within ${unfinished.within} of the same ${unfinished.join}${per(unfinished.by)}`;
	if (measure) {
		const { of, above, below, critical, within } = measure;
		const beyond = above === undefined ? `below ${below}` : `above ${above}`;
		return `${of} ${beyond}${critical ? `, critical ${critical}` : ""} within ${within} of ${measure.find}${per(measure.by)}`;
	}
	if (fewer) {
		const than = fewer.than ?? 1;
		return `${fewer.find}, ${than === 1 ? "none" : `fewer than ${than}`} within ${fewer.within}${per(fewer.by)}`;
	}
	const shared = sequence ?? entry ?? count;
	const often = (shared?.at_least ?? 1) > 1 ? `, ${shared?.at_least} times` : "";
	const within = often || sequence ? ` within ${shared?.within}` : "";
	const by = per(shared?.by);
	if (entry) return `logbook: ${entry.kinds.join(" or ")}${often}${within}${by}`;
	if (!sequence) return `${count?.find}${often}${within}${by}`;
	const without = sequence.without ? `, no ${sequence.without} between` : "";
	return `${sequence.first}${often}, then ${sequence.then}${within}${by}${without}`;
}

/** The condition in a line, and in which hours it is watched. */
export function inWords({ when, hours }: Definition): string {
	return [conditionInWords(when), hoursInWords(hours)].filter(Boolean).join(", ");
}
