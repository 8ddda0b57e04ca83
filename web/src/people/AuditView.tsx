import { Button } from "@mantine/core";
import { useInfiniteQuery, useMutation } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { clock, dayAndYear, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./People.module.css";
import { PeopleHead } from "./PeopleHead";

type Entry = Schemas["AuditEntry"];
type Change = Entry["changes"][number];

function useEntries() {
	return useInfiniteQuery({
		queryKey: ["audit"],
		initialPageParam: null as number | null,
		queryFn: ({ pageParam: before, signal }) =>
			answer(api.GET("/api/audit", { params: { query: before === null ? {} : { before } }, signal })),
		getNextPageParam: (page) => (page.more ? page.entries.at(-1)?.id : undefined),
	});
}

const shown = (value: unknown) => (typeof value === "string" ? value : JSON.stringify(value));
const MOMENT = /_us$/;

/** What a change did to each value, moments of it aside. */
function Difference({ change }: { change: Change }) {
	const { before, after } = change;
	const names = Object.keys(after ?? before ?? {}).filter((name) => !MOMENT.test(name) && name !== "id");
	return (
		<li>
			{change.what} {change.id}
			{after === null && " removed"}
			{names.map((name) => {
				const [was, is] = [before?.[name] ?? null, after?.[name] ?? null];
				if (was === null && is === null) return null;
				return (
					<span key={name} className={classes.value}>
						{name}: {was !== null && <del>{shown(was)}</del>} {is !== null && <ins>{shown(is)}</ins>}
					</span>
				);
			})}
		</li>
	);
}

function outcome(status: number): string {
	if (status === 401) return "wrong login";
	if (status === 429) return "too many tries";
	return status === 403 ? "refused" : "";
}

/** Who did what: logins, refusals, changes and what left as a file. */
export function AuditView() {
	const { zone } = useZone();
	const { data, error, hasNextPage, fetchNextPage, isFetchingNextPage } = useEntries();
	const check = useMutation({ mutationFn: () => answer(api.GET("/api/audit/check")) });
	const entries = data?.pages.flatMap((page) => page.entries) ?? [];
	const problem = error ?? check.error;
	return (
		<main className={classes.screen}>
			<PeopleHead>
				<Button variant="default" size="compact-md" loading={check.isPending} onClick={() => check.mutate()}>
					Verify
				</Button>
				{check.data && (
					<p role="status" className={check.data.broken === null ? classes.hint : classes.problem}>
						{check.data.broken === null
							? `${number(check.data.entries)} entries, unchanged since they were written`
							: `Entry ${check.data.broken} was changed, or one before it is missing`}
					</p>
				)}
			</PeopleHead>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{data && entries.length === 0 && <p className={classes.hint}>Nothing was changed yet.</p>}
			{entries.length > 0 && (
				<table className={classes.audit}>
					<thead>
						<tr>
							<th scope="col">Time</th>
							<th scope="col">Who</th>
							<th scope="col">Did</th>
							<th scope="col">To</th>
							<th scope="col">Changed</th>
						</tr>
					</thead>
					<tbody>
						{entries.map((entry) => (
							<tr key={entry.id} data-entry={entry.id} data-outcome={outcome(entry.outcome) || undefined}>
								<td>
									{dayAndYear(entry.at_us, zone)} {clock(entry.at_us, zone).slice(0, 8)}
								</td>
								<td>
									<b>{entry.who}</b>
									{entry.address && <span className={classes.agent}>{entry.address}</span>}
								</td>
								<td title={entry.action}>
									{entry.says ?? entry.action}
									{outcome(entry.outcome) && <span className={classes.problem}> {outcome(entry.outcome)}</span>}
								</td>
								<td>{entry.target}</td>
								<td>
									<ul>
										{entry.changes.map((change, index) => (
											<Difference key={`${index} ${change.what} ${change.id}`} change={change} />
										))}
									</ul>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			{hasNextPage && (
				<Button variant="default" mt="md" loading={isFetchingNextPage} onClick={() => fetchNextPage()}>
					Show older entries
				</Button>
			)}
		</main>
	);
}
