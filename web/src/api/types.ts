/** Answers of the HTTP interface, as docs/openapi.json describes them. */

export interface Status {
	lines: number;
	first_us: number;
	last_us: number;
	landing: string | null;
	zone: string | null;
	machines: string[];
	services: string[];
	sources: number;
	version: string;
}

export type FieldValue = string | number | boolean;

export interface Line {
	id: string;
	time_us: number;
	severity: number;
	machine: string | null;
	service: string | null;
	message: string;
	fields: Record<string, FieldValue>;
}

export interface LineDetail extends Line {
	raw: string;
	bytes: number;
	source: string;
	line_number: number;
	offset: number;
	encoding: string;
	zone: string;
	reader: { name: string; title: string; why: string };
	severity_rule: string;
	pattern: { name: string; text: string };
	inferred: string[];
	note: string | null;
}

export interface Highlight {
	tokens?: string[];
	open?: boolean;
	text?: string;
	pattern?: string;
}

export interface Page {
	lines: Line[];
	more_before: boolean;
	more_after: boolean;
	highlights: Highlight[];
}

export interface Series {
	name: string | null;
	total: number;
	/** step, then the counts of the nine severities */
	counts: number[][];
}

export interface Histogram {
	start_us: number;
	step_us: number;
	steps: number;
	total: number;
	from_us: number;
	to_us: number;
	milliseconds: number;
	series: Series[];
}

export interface Silence {
	machine: string;
	from_us: number;
	to_us: number;
	usual_us: number;
	open: boolean;
}

export interface Completion {
	text: string;
	kind: "field" | "machine" | "service" | "word" | "value";
	count?: number;
}

export interface PartResult {
	name: string;
	lines?: number;
	events?: number;
	bytes?: number;
	unread?: number;
	known_lines?: number;
	readers?: Record<string, number>;
	problem?: string | null;
}

export interface Import {
	id: number;
	name: string;
	state: "waiting" | "reading" | "done" | "cancelled" | "failed" | "leaving" | "removed";
	bytes: number;
	bytes_read: number;
	results: PartResult[];
	created_us: number;
	ended_us: number | null;
}

/** RFC 9457 */
export interface ProblemDetails {
	type: string;
	title: string;
	status: number;
	detail: string;
	column?: number;
	length?: number;
	suggestion?: string;
	text?: string;
	parameter?: string;
}

export type PatternChange = "new" | "gone" | "more" | "less" | "same";

/** Lines of one pattern: its fixed words, with … for the open places. */
export interface Pattern {
	name: string;
	text: string;
	count: number;
	severities: number[];
	steps: number[];
	first_us: number | null;
	last_us: number | null;
	machines: string[];
	before: number | null;
	expected: number | null;
	log10_p: number | null;
	change: PatternChange | null;
	/** Whether no line before the window has it. */
	first_time: boolean | null;
}

export interface Patterns {
	patterns: Pattern[];
	found: number;
	total: number;
	changes: Partial<Record<PatternChange, number>>;
	start_us: number;
	step_us: number;
	from_us: number;
	to_us: number;
	against_from_us: number | null;
	against_to_us: number | null;
	milliseconds: number;
}
