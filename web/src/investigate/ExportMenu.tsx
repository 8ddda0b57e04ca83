import { Button, Menu, Progress } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, asking } from "../api/client";
import { asked, type Question } from "../shared/question";
import { number } from "../shared/time";
import classes from "./Investigate.module.css";

const FORMS: [string, string][] = [
	["ndjson", "NDJSON, everything known of each line"],
	["csv", "CSV, with the columns shown"],
	["xlsx", "XLSX, with the columns shown"],
	["rfc5424", "syslog, RFC 5424"],
	["otlp", "OTLP JSON"],
	["raw", "as the lines came in"],
];
const LOOK_MS = 500;

/** Writes the lines of the question to a file, whatever their number; how far it is can be seen, and it can be stopped. */
export function ExportMenu({ question }: { question: Question }) {
	const [current, setCurrent] = useState<number | null>(null);
	const ask = useMutation({
		mutationFn: (form: string) => {
			const params = asked(question);
			params.set("form", form);
			params.set("columns", question.columns.join(","));
			return answer(api.POST("/api/exports", asking(params)));
		},
		onSuccess: ({ id }) => {
			setCurrent(id);
			// The browser writes the file as it comes.
			const link = document.createElement("a");
			link.href = `/api/exports/${id}/file`;
			link.download = "";
			link.click();
		},
	});
	const { data } = useQuery({
		queryKey: ["export", current],
		enabled: current !== null,
		queryFn: ({ signal }) => answer(api.GET("/api/exports/{id}", { params: { path: { id: current ?? 0 } }, signal })),
		refetchInterval: ({ state }) =>
			state.data?.state === "done" || state.data?.state === "cancelled" ? false : LOOK_MS,
	});
	const running = data && (data.state === "waiting" || data.state === "writing");
	if (running)
		return (
			<span className={classes.export} role="status">
				<Progress value={(100 * data.written) / Math.max(data.lines, 1)} size="sm" w={70} aria-label="share written" />
				{number(data.written)} of {number(data.lines)}
				<Button
					size="compact-xs"
					variant="subtle"
					onClick={() => void answer(api.DELETE("/api/exports/{id}", { params: { path: { id: data.id } } }))}
				>
					Stop
				</Button>
			</span>
		);
	return (
		<>
			{ask.error && <span role="alert">{ask.error.message}</span>}
			{data && (
				<span className={classes.export} role="status" data-exported={data.state}>
					{data.state === "done" ? `${number(data.written)} lines written` : "stopped; the file is not whole"}
				</span>
			)}
			<Menu position="bottom-end">
				<Menu.Target>
					<button type="button" className={classes.tool}>
						export ▾
					</button>
				</Menu.Target>
				<Menu.Dropdown>
					{FORMS.map(([form, name]) => (
						<Menu.Item key={form} onClick={() => ask.mutate(form)}>
							{name}
						</Menu.Item>
					))}
				</Menu.Dropdown>
			</Menu>
		</>
	);
}
