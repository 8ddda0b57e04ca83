/** Times are microseconds since 1970 (UTC); they are shown in the zone that the person chose. */

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string): Intl.DateTimeFormat {
	let known = formats.get(zone);
	if (!known) {
		known = new Intl.DateTimeFormat("en-GB", {
			timeZone: zone,
			year: "numeric",
			month: "2-digit",
			day: "2-digit",
			hour: "2-digit",
			minute: "2-digit",
			second: "2-digit",
			hourCycle: "h23",
		});
		formats.set(zone, known);
	}
	return known;
}

export interface Civil {
	year: string;
	month: string;
	day: string;
	hour: string;
	minute: string;
	second: string;
	micros: number;
}

export const DAY_US = 86_400_000_000;
export const WEEK_US = 7 * DAY_US;

export const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

export function civil(us: number, zone: string): Civil {
	const ms = Math.floor(us / 1000);
	const parts = Object.fromEntries(
		format(zone)
			.formatToParts(ms)
			.map((part) => [part.type, part.value]),
	);
	return { ...(parts as unknown as Civil), micros: us - Math.floor(us / 1_000_000) * 1_000_000 };
}

export function clock(us: number, zone: string): string {
	const { hour, minute, second } = civil(us, zone);
	return `${hour}:${minute}:${second}`;
}

/** As exact as the stamp: milliseconds, and microseconds where there are any. */
export function clockExact(us: number, zone: string): string {
	const { micros } = civil(us, zone);
	const fraction = String(micros).padStart(6, "0");
	return `${clock(us, zone)}.${micros % 1000 === 0 ? fraction.slice(0, 3) : fraction}`;
}

export function day(us: number, zone: string): string {
	const parts = civil(us, zone);
	return `${Number(parts.day)} ${MONTHS[Number(parts.month) - 1]}`;
}

export function dayAndYear(us: number, zone: string): string {
	return `${day(us, zone)} ${civil(us, zone).year}`;
}

function short(us: number, zone: string): string {
	const text = clock(us, zone);
	return text.endsWith(":00") ? text.slice(0, 5) : text;
}

/** "22 Nov 06:02 – 06:26", with the year where it is not this one; an end that is open is null */
export function windowName(fromUs: number | null, toUs: number | null, zone: string): string {
	const thisYear = civil(Date.now() * 1000, zone).year;
	const named = [fromUs, toUs].every((us) => us === null || civil(us, zone).year === thisYear) ? day : dayAndYear;
	if (fromUs === null && toUs === null) return "everything";
	if (toUs === null) return `since ${named(fromUs ?? 0, zone)} ${short(fromUs ?? 0, zone)}`;
	if (fromUs === null) return `until ${named(toUs, zone)} ${short(toUs, zone)}`;
	const [first, last] = [named(fromUs, zone), named(toUs, zone)];
	if (first === last) return `${first} ${short(fromUs, zone)} – ${short(toUs, zone)}`;
	if (short(fromUs, zone) === "00:00" && short(toUs, zone) === "00:00") {
		const lastDay = named(toUs - 1, zone);
		return lastDay === first ? first : `${first} – ${lastDay}`;
	}
	return `${first} ${short(fromUs, zone)} – ${last} ${short(toUs, zone)}`;
}

/** "47 s", "1 min 44 s", "2 h 5 min", "3 d 4 h" */
export function duration(us: number): string {
	if (us > 0 && us < 1000) return `${us} µs`;
	if (us < 999_500) return `${Math.round(us / 1000)} ms`;
	const seconds = Math.round(us / 1_000_000);
	if (seconds < 60) return `${seconds} s`;
	const units: [number, string][] = [
		[86_400, "d"],
		[3600, "h"],
		[60, "min"],
		[1, "s"],
	];
	const index = units.findIndex(([size]) => seconds >= size);
	const [size, name] = units[index] ?? [1, "s"];
	const whole = Math.floor(seconds / size);
	const [nextSize, nextName] = units[index + 1] ?? [1, "s"];
	const rest = Math.floor((seconds - whole * size) / nextSize);
	return rest > 0 ? `${whole} ${name} ${rest} ${nextName}` : `${whole} ${name}`;
}

/** Label of a step on the rail, where there is room for seven characters. */
export function stepName(us: number, stepUs: number, zone: string): string {
	if (stepUs >= 4 * WEEK_US) return dayAndYear(us, zone).replace(/^\d+ (\w+) \d\d/, "$1 ’");
	if (stepUs >= 86_400_000_000) return day(us, zone);
	const text = clock(us, zone);
	// Below a second the fraction tells steps apart.
	if (stepUs < 1_000_000 && us % 1_000_000 !== 0) return `:${clockExact(us, zone).slice(6, 12)}`;
	if (text === "00:00:00") return day(us, zone);
	if (text.endsWith(":00")) return text.slice(0, 5);
	return stepUs >= 1_000_000 ? text : `:${text.slice(6)}.000`;
}

/** Seconds by which the zone is ahead of UTC at a moment. */
export function utcOffset(us: number, zone: string): number {
	const { year, month, day: date, hour, minute, second } = civil(us, zone);
	const local = Date.UTC(Number(year), Number(month) - 1, Number(date), Number(hour), Number(minute), Number(second));
	return Math.round(local / 1000 - Math.floor(us / 1_000_000));
}

/** What a date field speaks: "2026-11-22 06:02:00", on the wall clock of the zone. */
export function wall(us: number, zone: string): string {
	const { year, month, day, hour, minute, second } = civil(us, zone);
	return `${year}-${month}-${day} ${hour}:${minute}:${second}`;
}

export function fromWall(text: string, zone: string): number {
	const asUtc = Date.parse(`${text.replace(" ", "T")}Z`) * 1000;
	return asUtc - utcOffset(asUtc - utcOffset(asUtc, zone) * 1_000_000, zone) * 1_000_000;
}

export function toIso(us: number): string {
	const whole = new Date(Math.floor(us / 1_000_000) * 1000).toISOString().slice(0, 19);
	const micros = us - Math.floor(us / 1_000_000) * 1_000_000;
	return micros ? `${whole}.${String(micros).padStart(6, "0").replace(/0+$/, "")}Z` : `${whole}Z`;
}

export function fromIso(text: string): number | null {
	const match = /^(\d{4}-\d\d-\d\dT\d\d:\d\d(?::\d\d)?)(?:\.(\d{1,6}))?Z$/.exec(text);
	if (!match) return null;
	const seconds = Date.parse(`${match[1]}Z`);
	if (Number.isNaN(seconds)) return null;
	return seconds * 1000 + Number((match[2] ?? "").padEnd(6, "0"));
}

export function number(value: number): string {
	return value.toLocaleString("en-GB");
}

export function bytes(value: number): string {
	const units = ["B", "kB", "MB", "GB", "TB"];
	let size = value;
	let unit = 0;
	// What would be rounded to a thousand is one of the next.
	while (size >= (unit === 0 ? 1000 : 999.95) && unit < units.length - 1) {
		size /= 1000;
		unit += 1;
	}
	return `${unit === 0 ? size : size.toFixed(1)} ${units[unit]}`;
}
