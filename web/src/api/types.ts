/** Answers of the HTTP interface, as docs/openapi.json describes them. */
import type { components } from "./schema";

export type Schemas = components["schemas"];

export type Status = Schemas["Status"];
export type Line = Schemas["Line"];
export type FieldValue = Line["fields"][string];
export type LineDetail = Schemas["LineDetail"];
export type Highlight = Schemas["Highlight"];
export type Page = Schemas["Page"];
export type Histogram = Schemas["Histogram"];
export type Series = Histogram["series"][number];
export type Silence = Schemas["Silences"]["silences"][number];
export type Completion = Schemas["Completions"]["completions"][number];
export type PartResult = Schemas["PartResult"];
export type Import = Schemas["Import"];
/** RFC 9457 */
export type ProblemDetails = Schemas["Problem"];
export type Pattern = Schemas["Pattern"];
export type ChangeKind = NonNullable<Pattern["change"]>;
/** How a count changed against the other side of a comparison; null without one. */
export type Changed = Pick<Pattern, "before" | "expected" | "log10_p" | "change">;
export type Patterns = Schemas["Patterns"];
export type PatternDetail = Schemas["PatternDetail"];
/** What answers of all surveys have. */
export type Sides = Pick<
	Patterns,
	"total" | "from_us" | "to_us" | "against_from_us" | "against_to_us" | "milliseconds"
>;
export type Fields = Schemas["Fields"];
export type FieldStats = Schemas["Field"];
export type Numbers = NonNullable<FieldStats["numbers"]>;
export type Words = Schemas["Words"];
export type Word = Schemas["Word"];
export type Measurement = Schemas["Measurement"];
export type Group = Schemas["Group"];
/** What helped when a pattern was there before. */
export type Remedy = Schemas["Remedy"];
export type Happening = Schemas["Happening"];
