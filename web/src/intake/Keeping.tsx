import { Button, Group, Menu, Modal, NumberInput, Switch } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { IntakeHead } from "../shared/IntakeHead";
import { More } from "../shared/More";
import { Allowed } from "../shared/session";
import { bytes, dayAndYear, number, toIso } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Intake.module.css";

const PATH = "/api/keeping";
const at = (id: number) => ({ params: { path: { id } } });
const DAY_US = 86_400_000_000;

type Archive = Schemas["Archive"];

interface Limits {
	/** null: for ever */
	days: number | null;
	/** null: as large as it becomes */
	megabytes: number | null;
	/** Whether what leaves the database is written to a file first. */
	archive: boolean;
}

type State = Schemas["Keeping"];
type Uploads = Schemas["UploadLimits"];

const ARCHIVE_STATES: Record<Archive["state"], string> = {
	away: "put away",
	coming: "coming back",
	back: "back",
	going: "being put away",
};

/** A number that may be left out. */
function whole(value: string | number): number | null {
	return value === "" ? null : Number(value);
}

function LimitsForm({ state, onSave, saving }: { state: State; onSave: (limits: Limits) => void; saving: boolean }) {
	const [days, setDays] = useState<string | number>(state.days ?? "");
	const [gigabytes, setGigabytes] = useState<string | number>(state.megabytes ? state.megabytes / 1000 : "");
	const [archive, setArchive] = useState(state.archive);
	const size = whole(gigabytes);
	const wanted = { days: whole(days), megabytes: size === null ? null : Math.round(size * 1000), archive };
	const [settled] = useDebouncedValue(wanted, 300);
	const trial = useQuery({
		queryKey: ["keeping trial", settled.days, settled.megabytes],
		queryFn: () => answer(api.POST("/api/keeping/trial", { body: settled })),
		enabled: settled.days !== null || settled.megabytes !== null,
		placeholderData: keepPreviousData,
		retry: false,
	});
	const limited = wanted.days !== null || wanted.megabytes !== null;
	const going = limited ? (trial.data?.overdue ?? 0) + (trial.data?.surplus ?? 0) : 0;
	return (
		<form
			className={classes.keeping}
			onSubmit={(event) => {
				event.preventDefault();
				onSave(wanted);
			}}
		>
			<NumberInput
				label="Lines are kept for, in days"
				description="a source may have its own number"
				placeholder="for ever"
				min={1}
				max={36_500}
				allowDecimal={false}
				value={days}
				onChange={setDays}
			/>
			<NumberInput
				label="The database is at most, in GB"
				description="the oldest lines go first"
				placeholder="as large as it becomes"
				min={0.01}
				decimalScale={2}
				value={gigabytes}
				onChange={setGigabytes}
			/>
			<Switch
				label="Put lines away before they are forgotten"
				description="compressed NDJSON, a file for each day, that can be brought back"
				checked={archive}
				onChange={(event) => setArchive(event.currentTarget.checked)}
			/>
			<p className={!archive && going > 0 ? classes.problem : classes.said} role="status">
				{trial.error && limited
					? trial.error.message
					: !limited
						? "Nothing is forgotten."
						: `${number(going)} lines would ${archive ? "be put away" : "be lost"} at once.`}
			</p>
			<Button type="submit" loading={saving}>
				Keep it so
			</Button>
		</form>
	);
}

const GB = 1000;

function UploadsForm({
	limits,
	onSave,
	saving,
}: {
	limits: Uploads;
	onSave: (limits: Uploads) => void;
	saving: boolean;
}) {
	const [sent, setSent] = useState<string | number>(limits.megabytes / GB);
	const [unpacked, setUnpacked] = useState<string | number>(limits.unpacked_megabytes / GB);
	const megabytes = (value: string | number) => Math.round(Number(value) * GB);
	return (
		<form
			className={classes.keeping}
			onSubmit={(event) => {
				event.preventDefault();
				onSave({ megabytes: megabytes(sent), unpacked_megabytes: megabytes(unpacked) });
			}}
		>
			<NumberInput
				label="Upload size limit (GB)"
				description="a higher one applies after a restart"
				required
				withAsterisk={false}
				min={0.001}
				decimalScale={3}
				value={sent}
				onChange={setSent}
			/>
			<NumberInput
				label="Unpacked size limit (GB)"
				description="everything its archives unpack to"
				required
				withAsterisk={false}
				min={0.001}
				decimalScale={3}
				value={unpacked}
				onChange={setUnpacked}
			/>
			<Button type="submit" variant="default" loading={saving}>
				Save
			</Button>
		</form>
	);
}

/** How long lines are kept, and what was put away. */
export function Keeping() {
	const { zone } = useZone();
	const queries = useQueryClient();
	const settled = { onSuccess: () => queries.invalidateQueries() };
	const state = useQuery({
		queryKey: [PATH],
		queryFn: ({ signal }) => answer(api.GET("/api/keeping", { signal })),
		refetchInterval: ({ state: { data } }) =>
			data?.doing || data?.archives.some((one) => one.state === "coming" || one.state === "going") ? 1000 : 5000,
	});
	const [unconfirmed, setUnconfirmed] = useState<Limits | null>(null);
	const save = useMutation({
		mutationFn: (body: Limits & { confirmed?: boolean }) => answer(api.PUT("/api/keeping", { body })),
		...settled,
	});
	// What is deleted without an archive is gone for good.
	const keep = (limits: Limits) =>
		limits.archive || (limits.days === null && limits.megabytes === null)
			? save.mutate(limits)
			: setUnconfirmed(limits);
	const uploads = useMutation({
		mutationFn: (body: Uploads) => answer(api.PUT("/api/keeping/uploads", { body })),
		...settled,
	});
	const back = useMutation({
		mutationFn: (id: number) => answer(api.POST("/api/keeping/archives/{id}/back", at(id))),
		...settled,
	});
	const away = useMutation({
		mutationFn: (id: number) => answer(api.DELETE("/api/keeping/archives/{id}/back", at(id))),
		...settled,
	});
	const forget = useMutation({
		mutationFn: (id: number) => answer(api.DELETE("/api/keeping/archives/{id}", at(id))),
		...settled,
	});
	const problem = state.error ?? save.error ?? uploads.error ?? back.error ?? away.error ?? forget.error;
	const data = state.data;
	return (
		<main className={classes.screen}>
			<IntakeHead>
				{data && (
					<>
						<b>{number(data.lines)}</b> lines since {dayAndYear(data.first_us, zone)},{" "}
						<b>{bytes(data.database_bytes)}</b>
						{data.free_bytes !== null && `; ${bytes(data.free_bytes)} are free on the disk`}
						{data.doing && <span className={classes.state}>{data.doing}</span>}
					</>
				)}
			</IntakeHead>
			{problem && <p className={classes.problem}>{problem.message}</p>}
			{data?.problem && (
				<p className={classes.problem} role="alert">
					{data.problem}. It is tried again; the rest goes on.
				</p>
			)}
			{data && (
				<Allowed to="PUT /api/keeping" tell>
					<LimitsForm state={data} onSave={keep} saving={save.isPending} />
				</Allowed>
			)}
			{data && (
				<Allowed to="PUT /api/keeping/uploads" tell>
					<UploadsForm limits={data.uploads} onSave={(limits) => uploads.mutate(limits)} saving={uploads.isPending} />
				</Allowed>
			)}
			{unconfirmed && (
				<Modal opened onClose={() => setUnconfirmed(null)} title="Delete lines without an archive?">
					<p>Lines beyond these limits are deleted permanently, now and from now on. They cannot be restored.</p>
					<Group justify="end">
						<Button variant="default" onClick={() => setUnconfirmed(null)} data-autofocus>
							Cancel
						</Button>
						<Button
							color="red"
							onClick={() => {
								save.mutate({ ...unconfirmed, confirmed: true });
								setUnconfirmed(null);
							}}
						>
							Delete without archiving
						</Button>
					</Group>
				</Modal>
			)}
			{data && data.archives.length === 0 && <p className={classes.said}>Nothing was put away yet.</p>}
			{data && data.archives.length > 0 && (
				<div className={classes.scroll}>
					<table className={classes.table}>
						<thead>
							<tr>
								<th scope="col">Day</th>
								<th scope="col">File</th>
								<th scope="col">State</th>
								<th scope="col">lines</th>
								<th scope="col">bytes</th>
								<th scope="col" aria-label="actions" />
							</tr>
						</thead>
						<tbody>
							{data.archives.map((archive) => {
								const from = Date.parse(`${archive.day}T00:00:00Z`) * 1000;
								return (
									<tr key={archive.id} className={classes.feed} data-archive={archive.day}>
										<td>
											<strong>{dayAndYear(from, "UTC")}</strong>
										</td>
										<td className={classes.line}>archive/{archive.file}</td>
										<td>
											{ARCHIVE_STATES[archive.state]}
											{archive.state === "coming" && `, ${number(archive.back_lines)} so far`}
											{archive.problem && <span className={classes.problem}>{archive.problem}</span>}
										</td>
										<td className={classes.number}>{number(archive.lines)}</td>
										<td className={classes.number}>{bytes(archive.bytes)}</td>
										<td className={classes.actions}>
											{archive.state === "away" && (
												<Allowed to="POST /api/keeping/archives/{id}/back">
													<Button size="compact-xs" variant="subtle" onClick={() => back.mutate(archive.id)}>
														Bring back
													</Button>
												</Allowed>
											)}
											{archive.state === "back" && (
												<>
													<Link to={`/?${new URLSearchParams({ from: toIso(from), to: toIso(from + DAY_US) })}`}>
														lines
													</Link>{" "}
													<Allowed to="DELETE /api/keeping/archives/{id}/back">
														<Button size="compact-xs" variant="subtle" onClick={() => away.mutate(archive.id)}>
															Put away again
														</Button>
													</Allowed>
												</>
											)}
											{archive.state === "away" && (
												<Allowed to="DELETE /api/keeping/archives/{id}">
													<More of={archive.day}>
														<Menu.Item onClick={() => forget.mutate(archive.id)}>
															Delete the file for good: {number(archive.lines)} lines
														</Menu.Item>
													</More>
												</Allowed>
											)}
										</td>
									</tr>
								);
							})}
						</tbody>
					</table>
				</div>
			)}
		</main>
	);
}
