import { useSearchParams } from "react-router";
import { type Definition, type Span, useSpan } from "../cards/api";
import { useScopes } from "../searches/api";
import { exactly } from "../shared/question";
import { fromIso, toIso } from "../shared/time";

export const WINDOW = "last 24 hours";
/** Variables stand in a link under their names, behind this. */
const VARIABLE = "v.";

/** What a reader of a board has chosen; all of it stands in the link. */
export interface View {
	span: Span | undefined;
	error: Error | null;
	compared: string;
	scope: string;
	/** Of variables, by name. */
	values: Record<string, string>;
	/** Find texts that all cards are narrowed by. */
	conditions: string[];
	choose: (next: Record<string, string | null>) => void;
	chooseTime: (fromUs: number | null, toUs: number | null) => void;
}

export const variableKey = (name: string) => VARIABLE + name;

/** A moment of a link; an end that is not named is open. */
const moment = (text: string | null) => (text === null ? null : fromIso(text));

export function useView(definition: Definition): View {
	const [params, setParams] = useSearchParams();
	const named = params.has("from") || params.has("to");
	const words = useSpan(definition.window || WINDOW, !named);
	const scope = params.get("scope") ?? "";
	const scoped = useScopes().data?.scopes.find(({ name }) => name === scope);
	const variables = definition.variables ?? [];
	const values = Object.fromEntries(
		variables.map(({ name, value }) => [name, params.get(variableKey(name)) ?? value ?? ""]),
	);
	const choose = (next: Record<string, string | null>) =>
		setParams((now) => {
			const after = new URLSearchParams(now);
			for (const [name, value] of Object.entries(next)) value === null ? after.delete(name) : after.set(name, value);
			return after;
		});
	return {
		span: named ? { fromUs: moment(params.get("from")), toUs: moment(params.get("to")) } : words.data,
		error: named ? null : words.error,
		compared: params.get("with") ?? definition.compared ?? "",
		scope,
		values,
		conditions: [
			definition.find?.trim() ?? "",
			scoped?.find ?? "",
			...variables.map(({ name, field }) => (values[name] ? exactly(field, values[name]) : "")),
		].filter(Boolean),
		choose,
		chooseTime: (fromUs, toUs) =>
			choose({
				from: fromUs === null ? null : toIso(fromUs),
				to: toUs === null ? null : toIso(toUs),
			}),
	};
}
