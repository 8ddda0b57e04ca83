import type { Definition } from "../cards/api";

export type Variable = NonNullable<Definition["variables"]>[number];

/** As people call them. */
const NAMES: Record<string, string> = { "host.name": "machine", "service.name": "service" };

/** The last part of a field's name, and where another has that, the whole name; small letters, digits and dashes. */
function nameOf(field: string, taken: Set<string>): string {
	const fit = (text: string) =>
		text
			.toLowerCase()
			.replace(/[^a-z0-9]+/g, "-")
			.replace(/^[^a-z]+|-$/g, "")
			.slice(0, 40);
	const parts = field.split(".");
	const short = NAMES[field] ?? fit(parts.at(-1) ?? "");
	if (short && !taken.has(short)) return short;
	const whole = fit(field) || "field";
	for (let number = 1; ; number += 1) {
		const name = number === 1 ? whole : `${whole.slice(0, 36)}-${number}`;
		if (!taken.has(name)) return name;
	}
}

/** Variables of fields; those that were there keep their names and values. */
export function variablesOf(fields: string[], now: Variable[]): Variable[] {
	const taken = new Set(now.filter(({ field }) => fields.includes(field)).map(({ name }) => name));
	return fields.map((field) => {
		const known = now.find((one) => one.field === field);
		if (known) return known;
		const name = nameOf(field, taken);
		taken.add(name);
		return { name, field, value: "" };
	});
}
