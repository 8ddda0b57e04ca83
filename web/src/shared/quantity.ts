import { bytes } from "./time";

const DURATIONS: [number, string][] = [
	[86_400, "d"],
	[3600, "h"],
	[60, "min"],
	[1, "s"],
	[1e-3, "ms"],
	[1e-6, "µs"],
];

function rounded(value: number): string {
	const size = Math.abs(value);
	if (size > 0 && size < 1) return value.toLocaleString("en-GB", { maximumSignificantDigits: 3 });
	const digits = size >= 100 || Number.isInteger(value) ? 0 : size >= 10 ? 1 : 2;
	return value.toLocaleString("en-GB", { maximumFractionDigits: digits });
}

/** A measured value with its unit: s, B, % or none. */
export function quantity(value: number | null, unit: string | null): string {
	if (value === null) return "–";
	if (unit === "B") return value < 0 ? `−${bytes(-value)}` : bytes(value);
	if (unit === "s") {
		const [size, name] = DURATIONS.find(([least]) => Math.abs(value) >= least) ?? (value ? [1e-6, "µs"] : [1, "s"]);
		return `${rounded(value / size)} ${name}`;
	}
	return unit ? `${rounded(value)} ${unit}` : rounded(value);
}
