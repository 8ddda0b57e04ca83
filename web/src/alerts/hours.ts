import type { Schemas } from "../api/types";

export type Hours = NonNullable<Schemas["AlertRouteDefinition"]["hours"]>;

/** Hours of days as they are typed; nothing typed is always. */
export interface HoursDraft {
	days: string[];
	from: string;
	to: string;
}

export const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];

export function hoursDraft(hours: Hours | undefined): HoursDraft {
	return { days: hours?.days ?? [], from: hours?.from ?? "", to: hours?.to ?? "" };
}

/** @param zone in which they are, where they had none before */
export function hoursOf({ days, from, to }: HoursDraft, zone: string): Hours | undefined {
	if (days.length === 0 && from === "" && to === "") return undefined;
	return {
		...(days.length > 0 && { days: DAYS.filter((day) => days.includes(day)) as NonNullable<Hours["days"]> }),
		from: from || "00:00",
		to: to || "00:00",
		zone,
	};
}

export function hoursInWords(hours: Hours | undefined): string {
	if (!hours) return "";
	return `${hours.days?.join(" ") ?? "every day"} ${hours.from ?? "00:00"}–${hours.to ?? "00:00"}`;
}
