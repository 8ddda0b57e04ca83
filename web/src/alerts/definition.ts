import type { Definition } from "./api";

export type Kind = "count" | "fewer" | "sequence" | "entry";

const KINDS: Kind[] = ["count", "fewer", "sequence", "entry"];

/** A rule as it is typed: what is empty is left out. */
export interface Draft {
	/** Of one that ships; empty for others. */
	id: string;
	name: string;
	severity: NonNullable<Definition["severity"]>;
	kind: Kind;
	find: string;
	/** Kinds of entries of the logbook. */
	kinds: string[];
	/** What comes then, of a sequence. */
	next: string;
	without: string;
	times: number;
	within: string;
	by: string[];
	quiet: string;
	why: string;
	steps: string;
	tags: string[];
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
	next: "",
	without: "",
	times: 1,
	within: "5min",
	by: ["host.name"],
	quiet: "",
	why: "",
	steps: "",
	tags: [],
	fold: true,
	attach: "",
};

export function read(definition: Definition): Draft {
	const { count, fewer, sequence, entry } = definition.when;
	const often = sequence ?? entry ?? count;
	const shared = often ?? fewer;
	return {
		...EMPTY,
		id: definition.id ?? "",
		name: definition.name,
		severity: definition.severity ?? EMPTY.severity,
		kind: KINDS.find((kind) => definition.when[kind]) ?? "count",
		kinds: entry?.kinds ?? [],
		find: sequence?.first ?? count?.find ?? fewer?.find ?? "",
		next: sequence?.then ?? "",
		without: sequence?.without ?? "",
		times: often?.at_least ?? fewer?.than ?? 1,
		within: shared?.within ?? EMPTY.within,
		by: shared?.by ?? [],
		quiet: definition.quiet ?? "",
		why: definition.why ?? "",
		steps: definition.steps ?? "",
		tags: definition.tags ?? [],
		fold: definition.fold ?? true,
		attach: definition.attach ?? "",
	};
}

const given = (values: Record<string, string>) =>
	Object.fromEntries(Object.entries(values).filter(([, value]) => value.trim() !== ""));

export function write(draft: Draft): Definition {
	const { find, times, within, by } = draft;
	const shared = { at_least: times, within, by };
	const conditions: Record<Kind, () => Definition["when"]> = {
		count: () => ({ count: { find, ...shared } }),
		fewer: () => ({ fewer: { find, than: times, within, by } }),
		entry: () => ({ entry: { kinds: draft.kinds, ...shared } }),
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
		...given({ quiet: draft.quiet, why: draft.why, steps: draft.steps, attach: draft.attach }),
		...(draft.tags.length > 0 && { tags: draft.tags }),
		...(!draft.fold && { fold: false }),
	};
}

/** What it is called, where nothing is typed. */
export const proposedName = (draft: Draft) =>
	(draft.kind === "entry" ? draft.kinds.join(", ") : draft.find).slice(0, 80);

/** Whether enough is said to try it. */
export function complete(draft: Draft): boolean {
	if (draft.kind === "entry") return draft.kinds.length > 0;
	return draft.find.trim() !== "" && (draft.kind !== "sequence" || draft.next.trim() !== "");
}

/** The condition in a line. */
export function inWords({ when: { count, fewer, sequence, entry } }: Definition): string {
	if (fewer) {
		const by = fewer.by?.length ? ` per ${fewer.by.join(" and ")}` : "";
		const than = fewer.than ?? 1;
		return `${fewer.find}, ${than === 1 ? "none" : `fewer than ${than}`} within ${fewer.within}${by}`;
	}
	const shared = sequence ?? entry ?? count;
	const often = (shared?.at_least ?? 1) > 1 ? `, ${shared?.at_least} times` : "";
	const within = often || sequence ? ` within ${shared?.within}` : "";
	const by = shared?.by?.length ? ` per ${shared.by.join(" and ")}` : "";
	if (entry) return `logbook: ${entry.kinds.join(" or ")}${often}${within}${by}`;
	if (!sequence) return `${count?.find}${often}${within}${by}`;
	const without = sequence.without ? `, no ${sequence.without} between` : "";
	return `${sequence.first}${often}, then ${sequence.then}${within}${by}${without}`;
}
