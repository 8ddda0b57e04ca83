import { Button, NumberInput } from "@mantine/core";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, api } from "../api/client";
import type { LineDetail } from "../api/types";
import { SeverityTicks } from "../shared/severity";
import { bytes, number } from "../shared/time";
import classes from "./Thread.module.css";

interface Cursor {
	line: number;
	before: number;
	after: number;
}

const AROUND = 60;

/** A line in its place in the original file, which can be paged both ways. */
export function FileView({ line, onChoose }: { line: LineDetail; onChoose: (id: string) => void }) {
	const [at, setAt] = useState(line.line_number);
	const [wanted, setWanted] = useState<number | string>(line.line_number);
	const chosen = useRef<HTMLLIElement>(null);
	const query = useInfiniteQuery({
		queryKey: ["file", line.source_id, at],
		initialPageParam: { line: at, before: AROUND, after: AROUND } as Cursor,
		queryFn: ({ pageParam, signal }) =>
			answer(api.GET("/api/sources/{id}", { params: { path: { id: line.source_id }, query: pageParam }, signal })),
		getNextPageParam: (page): Cursor | undefined => {
			const last = page.records.at(-1);
			const next = last ? last.line_number + last.raw.split("\n").length : 0;
			return last && next <= page.last_line ? { line: next, before: 0, after: AROUND * 2 } : undefined;
		},
		getPreviousPageParam: (page): Cursor | undefined => {
			const first = page.records[0]?.line_number ?? 1;
			return first > 1 ? { line: first - 1, before: AROUND * 2, after: 0 } : undefined;
		},
	});
	const file = query.data?.pages[0];
	const there = file !== undefined;
	useEffect(() => {
		chosen.current?.scrollIntoView({ block: "center" });
	}, [at, there]);
	const records = query.data?.pages.flatMap((page) => page.records) ?? [];
	const shown = records.findLast((record) => record.line_number <= at);
	return (
		<>
			<form
				className={classes.tools}
				onSubmit={(event) => {
					event.preventDefault();
					setAt(Number(wanted) || 1);
				}}
			>
				<b>{line.source}</b>
				{file && (
					<span>
						{number(file.last_line)} lines, {bytes(file.bytes)}, {file.encoding}
					</span>
				)}
				<NumberInput size="xs" w={110} aria-label="line number" min={1} value={wanted} onChange={setWanted} />
				<Button type="submit" size="compact-sm" variant="default">
					Go to line
				</Button>
				<a className={classes.link} href={`/api/sources/${line.source_id}/text`} download>
					Download whole
				</a>
			</form>
			{query.error && <p>{query.error.message}</p>}
			<ol className={classes.file} aria-label="The file">
				{query.hasPreviousPage && (
					<li className={classes.page}>
						<button type="button" className={classes.link} onClick={() => void query.fetchPreviousPage()}>
							earlier lines
						</button>
					</li>
				)}
				{records.map((record) => (
					<li
						key={record.id}
						ref={record === shown ? chosen : undefined}
						className={classes.record}
						aria-current={record === shown ? "true" : undefined}
					>
						<span className={classes.number}>{record.line_number}</span>
						<SeverityTicks code={record.severity} />
						<button type="button" className={classes.raw} onClick={() => onChoose(record.id)}>
							{record.raw || " "}
						</button>
					</li>
				))}
				{query.hasNextPage && (
					<li className={classes.page}>
						<button type="button" className={classes.link} onClick={() => void query.fetchNextPage()}>
							later lines
						</button>
					</li>
				)}
			</ol>
		</>
	);
}
