import { asked, type Question } from "../shared/question";
import { type Survey, useSurvey } from "./useSurvey";

export interface Clock {
	machine: string;
	from_us: number;
	to_us: number;
	/** By which it is ahead; behind when negative. */
	offset_us: number;
	/** By which that may be wrong; null when its log told it. */
	error_us: number | null;
	exchanges: number;
	told_us: number | null;
	stepped_us: number | null;
	step_id: string | null;
}

export interface Clocks {
	clocks: Clock[];
	/** Exchanges that more than one machine saw. */
	total: number;
}

/** What is less may be the way of the message. */
const LEAST_US = 1_000_000;

/** How far the clocks are apart in the window of a question. */
export function useClocks(question: Question, enabled: boolean): Survey<Clocks> {
	return useSurvey<Clocks>("/api/clocks", asked({ ...question, find: "", chips: [], hidden: [] }), enabled);
}

export function wrong(clocks: Clock[] | undefined): Clock[] {
	return (clocks ?? []).filter((clock) => Math.abs(clock.offset_us) >= LEAST_US);
}

/** What /api/lines has to be told to give lines in true order. */
export function shifts(clocks: Clock[]): string[] {
	return clocks.map((clock) => `${clock.machine}:${clock.from_us}:${clock.to_us}:${-clock.offset_us}`);
}
