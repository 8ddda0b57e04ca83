import { Button, Loader, Select, Textarea, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { answer, api, Problem } from "../api/client";
import intake from "../intake/Intake.module.css";
import { IntakeHead } from "../shared/IntakeHead";
import { equals } from "../shared/question";
import { Allowed } from "../shared/session";
import { number } from "../shared/time";
import { draft as askDraft, PARSERS, type ParserDraft, type Part, tryParser, useKeep } from "./api";
import classes from "./Rules.module.css";
import { SampleLine } from "./SampleLine";
import { TrialLines } from "./TrialLines";

const SAMPLES = 4;
const TYPES: Record<string, string> = {
	text: "text",
	whole: "whole number",
	number: "number",
	duration: "duration, such as 350ms",
	size: "size, such as 1.2 GB",
	address: "address",
	severity: "the line's severity",
	time: "the line's time",
	machine: "the line's machine",
	service: "the line's service",
	message: "the line's message",
};

/** What the address of the page says that the parser is to be made from. */
async function start(id: string | undefined, params: URLSearchParams, signal: AbortSignal): Promise<ParserDraft> {
	const fresh = { name: "", pattern: "", types: {}, find: params.get("find") ?? "", samples: [] };
	if (id && id !== "new") {
		const { parsers } = await PARSERS.list(signal);
		const parser = parsers.find((one) => one.id === Number(id));
		if (!parser) throw new Error("There is no such parser any more.");
		return parser;
	}
	const line = params.get("line");
	if (line) {
		const detail = await answer(api.GET("/api/lines/{id}", { params: { path: { id: line } }, signal }));
		const find = detail.service ? equals("service.name", detail.service) : equals("source", detail.source);
		return { ...fresh, samples: [detail.message], find: fresh.find || find };
	}
	const of = params.get("of");
	if (!of) return fresh;
	const page = await answer(api.GET("/api/lines", { params: { query: { find: of, end: "last", limit: 60 } }, signal }));
	const messages = new Set(page.lines.map((one) => one.message).reverse());
	return { ...fresh, samples: [...messages].slice(0, SAMPLES) };
}

/** Making a parser from sample lines, or changing one. */
export function ParserEditor() {
	const { id } = useParams();
	const [params] = useSearchParams();
	const given = useQuery({
		queryKey: ["parser", id, params.toString()],
		queryFn: ({ signal }) => start(id, params, signal),
		staleTime: Number.POSITIVE_INFINITY,
		gcTime: 0,
	});
	if (given.data) return <Editor id={id === "new" ? null : Number(id)} given={given.data} />;
	return (
		<main className={intake.screen}>
			<IntakeHead />
			{given.error ? <p className={intake.problem}>{given.error.message}</p> : <Loader size="sm" />}
		</main>
	);
}

/** Names and types of the parts, a row each. */
function Parts(props: {
	names: string[];
	types: Record<string, string>;
	fields: Record<string, string | null>;
	onName: ((index: number, name: string) => void) | null;
	onType: (name: string, type: string) => void;
}) {
	return (
		<table className={classes.parts}>
			<thead>
				<tr>
					<th scope="col">Field</th>
					<th scope="col">Type</th>
				</tr>
			</thead>
			<tbody>
				{props.names.map((name, index) => (
					<tr key={index}>
						<td>
							<i style={{ background: `var(--series-${index % 10})` }} />
							{props.onName ? (
								<TextInput
									size="xs"
									aria-label={`name of part ${index + 1}`}
									defaultValue={name}
									onBlur={(event) => props.onName?.(index, event.currentTarget.value)}
								/>
							) : (
								<code>{props.fields[name] ?? name}</code>
							)}
						</td>
						<td>
							<Select
								size="xs"
								aria-label={`type of ${name}`}
								data={Object.entries(TYPES).map(([value, label]) => ({ value, label }))}
								value={props.types[name] ?? "text"}
								onChange={(type) => type && props.onType(name, type)}
								allowDeselect={false}
							/>
						</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}

/** Names of the parts of an expression, in their order. */
function named(pattern: string): string[] {
	return [...pattern.matchAll(/\(\?P?<(\w+)>/g)].map((match) => match[1] ?? "");
}

function Editor({ id, given }: { id: number | null; given: ParserDraft }) {
	const navigate = useNavigate();
	const keep = useKeep(PARSERS, id);
	const [name, setName] = useState(given.name);
	const [find, setFind] = useState(given.find);
	const [samples, setSamples] = useState(given.samples);
	const [pasted, setPasted] = useState("");
	const [parts, setParts] = useState<Part[]>([]);
	/** Written by hand, or by someone before; null while the chosen parts say it. */
	const [written, setWritten] = useState<string | null>(given.pattern || null);
	const [chosen, setChosen] = useState<Record<string, string>>(given.types);

	const drafted = useQuery({
		queryKey: ["draft", samples, parts],
		queryFn: () => askDraft(samples, parts),
		enabled: samples.length > 0,
		placeholderData: keepPreviousData,
	});
	const pattern = written ?? (parts.length > 0 ? (drafted.data?.pattern ?? "") : "");
	const names = named(pattern);
	const proposed = written === null ? (drafted.data?.types ?? {}) : {};
	const types = Object.fromEntries(names.map((part) => [part, chosen[part] ?? proposed[part] ?? "text"]));
	const wanted = { name: name.trim() || "parser", pattern, types, find, samples };
	const [settled] = useDebouncedValue(wanted, 250);
	const trial = useQuery({
		queryKey: ["trial", settled.pattern, settled.types, settled.find, settled.samples],
		queryFn: () => tryParser(settled),
		enabled: settled.pattern !== "",
		placeholderData: keepPreviousData,
		retry: false,
	});
	const answer = pattern && !trial.error ? trial.data : undefined;
	const problem = keep.error ?? (pattern ? trial.error : null);
	const unfit = problem instanceof Problem ? (problem.details.parameter ?? "find") : undefined;
	const sample = (message: string) => setSamples((before) => [...before.filter((one) => one !== message), message]);
	const choose = (next: Part[]) => {
		setParts(next);
		setWritten(null);
	};
	const save = () =>
		keep.mutate({ ...wanted, name: name.trim() || names.join(", ") }, { onSuccess: () => navigate("/intake/parsers") });

	return (
		<main className={intake.screen}>
			<IntakeHead
				action={
					<>
						<Button variant="default" onClick={() => navigate("/intake/parsers")}>
							Cancel
						</Button>
						<Allowed to="POST /api/parsers">
							<Button onClick={save} loading={keep.isPending} disabled={names.length === 0}>
								Save the parser
							</Button>
						</Allowed>
					</>
				}
			/>
			<div className={classes.editor}>
				<section className={classes.made} aria-label="The parser">
					<h2>{id === null ? "A parser from a line" : `Parser ${given.name}`}</h2>
					{samples[0] === undefined ? (
						<p className={intake.said}>Paste a line that it should read.</p>
					) : (
						<>
							<p className={intake.said}>
								Click what is to become a field. Click again to let it go; shift and click takes all up to there.
							</p>
							<SampleLine
								message={samples[0]}
								pieces={drafted.data?.pieces ?? []}
								parts={written === null ? parts : []}
								onParts={choose}
							/>
						</>
					)}
					{names.length > 0 && (
						<Parts
							key={parts.map((part) => part.at).join()}
							names={names}
							types={types}
							fields={answer?.fields ?? {}}
							onName={
								written === null
									? (index, next) =>
											setParts(parts.map((part, place) => (place === index ? { ...part, name: next } : part)))
									: null
							}
							onType={(part, type) => setChosen({ ...chosen, [part]: type })}
						/>
					)}
					<Textarea
						label="Expression"
						description="RE2 syntax; each named group is a field"
						classNames={{ input: classes.code }}
						autosize
						minRows={2}
						maxRows={8}
						value={pattern}
						onChange={(event) => setWritten(event.currentTarget.value)}
						error={unfit === "pattern" || unfit === "parts" ? problem?.message : undefined}
					/>
					<TextInput
						label="Only for lines with"
						description="a find text; empty for all lines"
						classNames={{ input: classes.code }}
						value={find}
						onChange={(event) => setFind(event.currentTarget.value)}
						error={unfit === "find" ? problem?.message : undefined}
					/>
					<TextInput
						label="Name"
						placeholder={names.join(", ") || "parser"}
						value={name}
						onChange={(event) => setName(event.currentTarget.value)}
					/>
					{problem && !["pattern", "parts", "find"].includes(unfit ?? "") && (
						<p className={intake.problem} role="alert">
							{problem.message}
						</p>
					)}
				</section>
				<section className={classes.tried} aria-label="What it gives" aria-busy={trial.isFetching}>
					<h2>Samples</h2>
					<TrialLines
						lines={answer?.samples ?? samples.map((message) => ({ message, values: null }))}
						names={names}
						onRemove={(message) => {
							setSamples(samples.filter((one) => one !== message));
							if (message === samples[0]) setParts([]);
						}}
					/>
					<form
						className={classes.paste}
						onSubmit={(event) => {
							event.preventDefault();
							if (pasted.trim()) sample(pasted);
							setPasted("");
						}}
					>
						<TextInput
							size="xs"
							aria-label="another sample"
							placeholder="paste another line"
							value={pasted}
							onChange={(event) => setPasted(event.currentTarget.value)}
						/>
						<Button type="submit" size="xs" variant="default">
							Add
						</Button>
					</form>
					{answer && (
						<>
							<h2>
								{answer.looked_at === 0
									? "There are no such lines yet"
									: `${number(answer.matched)} of the latest ${number(answer.looked_at)} lines match`}
							</h2>
							{answer.looked_at > 0 && answer.matched === 0 && (
								<p className={intake.problem}>It matches nothing. Choose other lines, or less of the line.</p>
							)}
							{answer.slow && (
								<p className={intake.problem}>
									It is slow: {answer.microseconds} µs a line. Begin with ^, or with words that stand in the line.
								</p>
							)}
							{answer.conflicts.length > 0 && (
								<p className={intake.problem}>
									{answer.conflicts.join(", ")}: filled by the reader already; its value stays. Choose another name.
								</p>
							)}
							<p className={intake.said}>{answer.microseconds} µs a line. Misses are shown first.</p>
							<TrialLines lines={answer.lines} names={names} onSample={sample} />
						</>
					)}
				</section>
			</div>
		</main>
	);
}
