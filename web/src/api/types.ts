/** Answers of the HTTP interface, as docs/openapi.json describes them. */

export interface Status {
	/** Noise rules that hide lines from view. */
	hiding: number;
	lines: number;
	first_us: number;
	last_us: number;
	landing: string | null;
	zone: string | null;
	machines: string[];
	services: string[];
	/** Names of all fields that any line has. */
	fields: string[];
	sources: number;
	version: string;
}

export type FieldValue = string | number | boolean;

export interface Line {
	id: string;
	time_us: number;
	/** When it truly happened, where clocks are known to be off. */
	true_us: number;
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
	source_id: number;
	line_number: number;
	offset: number;
	encoding: string;
	zone: string;
	reader: { name: string; title: string; why: string };
	severity_rule: string;
	pattern: { name: string; text: string };
	/** What people say of its machine: field and value. */
	fleet: [string, string][];
	/** What helped when its pattern was there before. */
	remedies: Remedy[];
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
	/** Lines by step of what it is compared with. */
	beside: number[] | null;
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

export type ChangeKind = "new" | "gone" | "more" | "less" | "same";

/** How a count changed against the other side of a comparison; null without one. */
export interface Changed {
	before: number | null;
	expected: number | null;
	log10_p: number | null;
	change: ChangeKind | null;
}

/** What answers of all surveys have. */
export interface Sides {
	total: number;
	from_us: number;
	to_us: number;
	against_from_us: number | null;
	against_to_us: number | null;
	milliseconds: number;
}

/** Lines of one pattern: its fixed words, with … for the open places. */
export interface Pattern extends Changed {
	name: string;
	text: string;
	count: number;
	severities: number[];
	steps: number[];
	first_us: number | null;
	last_us: number | null;
	machines: string[];
	/** Whether no line before the window has it. */
	first_time: boolean | null;
	/** The pattern that it comes together with, where both are new or more. */
	with: string | null;
	/** Closed cases that it is pinned to. */
	remedies: Remedy[];
}

export interface PatternDetail extends Sides {
	places: { type: string; distinct: number; numbers: Numbers | null; values: { value: string; count: number }[] }[];
	/** Patterns that come at the same time: steps of time with both, and how many there would be by chance. */
	together: { name: string; text: string; count: number; both: number; chance: number; p: number; of: number }[];
}

export interface Patterns extends Sides {
	patterns: Pattern[];
	found: number;
	changes: Partial<Record<ChangeKind, number>>;
	start_us: number;
	step_us: number;
}

export interface FieldStats {
	name: string;
	type: string;
	count: number;
	distinct: number;
	/** Whether there were too many values to keep all. */
	cut: boolean;
	/** Bits by which its values differ from the other side. */
	difference: number | null;
	numbers: Numbers | null;
	values: (Changed & { value: string; count: number })[];
}

export interface Numbers {
	min: number | null;
	median: number | null;
	p95: number | null;
	max: number | null;
	unit: string | null;
	edges: number[];
	counts: number[];
}

export interface Fields extends Sides {
	fields: FieldStats[];
	/** Lines of the window that the question's were set against. */
	set_against: number;
}

export interface Word extends Changed {
	word: string;
	count: number;
}

export interface Words extends Sides {
	words: Word[];
	found: number;
	changes: Partial<Record<ChangeKind, number>>;
}

export interface Group {
	/** Values of the fields that it is grouped by; null for the rest. */
	by: (string | null)[] | null;
	value: number | null;
	steps: [number, number | null][];
}

export interface Measurement extends Sides {
	aggregate: string;
	field: string | null;
	by: string[];
	unit: string | null;
	measured: number;
	start_us: number | null;
	step_us: number | null;
	steps: number;
	found: number;
	groups: Group[];
	other: Group | null;
	whole: Group;
}

/** What helped when a pattern was there before. */
export interface Remedy {
	id: number;
	title: string;
	cause: string;
	remedy: string;
	closed_us: number | null;
}

export interface Happening {
	/** Of the line that tells it, where one does. */
	id: string;
	time_us: number;
	rule: string;
	kind: string;
	severity: number;
	machine: string | null;
	service: string | null;
	says: string;
	/** Who did it. */
	person: string | null;
	/** Whether a line tells it; there being none for long is told by none. */
	line: boolean;
	/** When it ended, where it lasts. */
	until_us: number | null;
	/** Of the operation that it asked for. */
	outcome: { id: string; severity: number; took_us: number } | null;
}
