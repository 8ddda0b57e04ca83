import type { Definition } from "./api";

export type Kind = "count" | "sequence";

/** A rule as it is typed: what is empty is left out. */
export interface Draft {
	name: string;
	severity: NonNullable<Definition["severity"]>;
	kind: Kind;
	find: string;
	/** What comes then, of a sequence. */
	next: string;
	without: string;
	times: number;
	within: string;
	by: string[];
	quiet: string;
	why: string;
	steps: string;
}

export const EMPTY: Draft = {
	name: "",
	severity: "error",
	kind: "count",
	find: "",
	next: "",
	without: "",
	times: 1,
	within: "5min",
	by: ["host.name"],
	quiet: "",
	why: "",
	steps: "",
};

export function read(definition: Definition): Draft {
	const { count, sequence } = definition.when;
	const shared = sequence ?? count;
	return {
		...EMPTY,
		name: definition.name,
		severity: definition.severity ?? EMPTY.severity,
		kind: sequence ? "sequence" : "count",
		find: sequence?.first ?? count?.find ?? "",
		next: sequence?.then ?? "",
		without: sequence?.without ?? "",
		times: shared?.at_least ?? 1,
		within: shared?.within ?? EMPTY.within,
		by: shared?.by ?? [],
		quiet: definition.quiet ?? "",
		why: definition.why ?? "",
		steps: definition.steps ?? "",
	};
}

const given = (values: Record<string, string>) =>
	Object.fromEntries(Object.entries(values).filter(([, value]) => value.trim() !== ""));

export function write(draft: Draft): Definition {
	const { find, times, within, by } = draft;
	const shared = { at_least: times, within, by };
	const when: Definition["when"] =
		draft.kind === "count"
			? { count: { find, ...shared } }
			: {
					sequence: {
						first: find,
						// biome-ignore lint/suspicious/noThenProperty: a part of a rule
						then: draft.next,
						...given({ without: draft.without }),
						...shared,
					},
				};
	return {
		name: draft.name.trim() || find.slice(0, 80),
		severity: draft.severity,
		when,
		...given({ quiet: draft.quiet, why: draft.why, steps: draft.steps }),
	};
}

/** The condition in a line. */
export function inWords({ when: { count, sequence } }: Definition): string {
	const shared = sequence ?? count;
	const often = (shared?.at_least ?? 1) > 1 ? `, ${shared?.at_least} times` : "";
	const within = often || sequence ? ` within ${shared?.within}` : "";
	const by = shared?.by?.length ? ` per ${shared.by.join(" and ")}` : "";
	if (!sequence) return `${count?.find}${often}${within}${by}`;
	const without = sequence.without ? `, no ${sequence.without} between` : "";
	return `${sequence.first}${often}, then ${sequence.then}${within}${by}${without}`;
}
