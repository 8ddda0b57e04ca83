import { SegmentedControl, Select } from "@mantine/core";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { AlertsHead } from "../alerts/AlertsHead";
import { Gone } from "../shared/IntakeHead";
import { KeyHints } from "../shared/KeyHints";
import { useKeys } from "../shared/keys";
import { Words } from "../shared/PatternText";
import { SeverityTicks } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { type Oddity, type Said, type Shown, useSay, useUnusual } from "./api";
import { type Group, groups } from "./groups";
import { OddityPanel, Sources } from "./OddityPanel";
import classes from "./Unusual.module.css";

const SHOWN: { value: Shown; label: string }[] = [
	{ value: "open", label: "open" },
	{ value: "muted", label: "muted" },
	{ value: "normal", label: "normal" },
	{ value: "all", label: "all" },
];
const NONE: Record<Shown, string> = {
	open: "Nothing is out of its usual.",
	muted: "Nothing is muted.",
	normal: "Nothing was taken as normal.",
	all: "Nothing was ever out of its usual.",
};

/** What is listed where nothing else is chosen; the same as the server has it. */
const LISTED = "40";
const PRIORITIES = [
	{ value: "80", label: "priority 80 or more" },
	{ value: "60", label: "priority 60 or more" },
	{ value: LISTED, label: "priority 40 or more" },
	{ value: "0", label: "any priority" },
];
const KEYS = [
	["j", "next"],
	["k", "previous"],
	["n", "normal now"],
	["m", "mute"],
	["Enter", "its lines"],
];

const KINDS: Record<Oddity["kind"], string> = { pattern: "new", value: "new value", more: "more", less: "less" };

/** What it is about: a pattern, a value, or all that a service or a machine writes. */
function What({ oddity: { pattern, field, value, service, machine } }: { oddity: Oddity }) {
	if (pattern)
		return (
			<span className={classes.pattern}>
				<Words text={pattern.text} />
			</span>
		);
	if (field) return <span className={classes.pattern}>{`${field} = ${value}`}</span>;
	return <>{service ? `${service} on ${machine}` : machine}</>;
}

const seldom = ({ lines, expected }: Oddity) =>
	expected === null
		? ""
		: `${number(lines)} lines, where about ${number(expected < 10 ? expected : Math.round(expected))} are usual`;

interface RowProps {
	oddity: Oddity;
	chosen: boolean;
	onChoose: () => void;
	under?: boolean;
	children?: React.ReactNode;
}

function Row({ oddity, chosen, onChoose, under, children }: RowProps) {
	const { zone } = useZone();
	const whose = [oddity.service, oddity.machine].filter(Boolean).join(" on ");
	return (
		<tr
			data-oddity={oddity.kind}
			data-under={under || undefined}
			aria-selected={chosen}
			className={classes.oddity}
			onClick={onChoose}
		>
			<td>
				<SeverityTicks code={oddity.severity} />
			</td>
			<td className={classes.number}>{oddity.priority}</td>
			<td className={classes.kind}>{KINDS[oddity.kind]}</td>
			<td>
				<button type="button" className={classes.name}>
					<What oddity={oddity} />
				</button>
				<span className={classes.second}>
					{[oddity.pattern || oddity.field ? whose : "", seldom(oddity)].filter(Boolean).join(" · ")}
				</span>
				{children}
			</td>
			<td className={classes.time}>
				{day(oddity.from_us, zone)} {clock(oddity.from_us, zone)}
			</td>
			<td className={classes.number}>{number(oddity.lines)}</td>
		</tr>
	);
}

function Rows({ group, chosen, onChoose }: { group: Group; chosen: number | null; onChoose: (id: number) => void }) {
	const [unfolded, setUnfolded] = useState(false);
	const { head, others } = group;
	return (
		<>
			<Row oddity={head} chosen={head.id === chosen} onChoose={() => onChoose(head.id)}>
				{others.length > 0 && (
					<button
						type="button"
						className={classes.unfold}
						aria-expanded={unfolded}
						onClick={(event) => {
							event.stopPropagation();
							setUnfolded(!unfolded);
						}}
					>
						{unfolded ? "▾" : "▸"} {number(others.length)} more of {head.service ?? head.machine} at that time
					</button>
				)}
			</Row>
			{unfolded &&
				others.map((one) => (
					<Row key={one.id} under oddity={one} chosen={one.id === chosen} onChoose={() => onChoose(one.id)} />
				))}
		</>
	);
}

/** What is out of its usual, without that a rule asks for it. */
export function Unusual() {
	const { zone } = useZone();
	const [params, setParams] = useSearchParams();
	const shown = SHOWN.find(({ value }) => value === params.get("show"))?.value ?? "open";
	const least = params.get("priority") ?? LISTED;
	const { data, error } = useUnusual(shown, Number(least) || 0);
	const say = useSay();
	const [said, setSaid] = useState<{ before: Said; now: string } | null>(null);
	const grouped = groups(data?.oddities ?? []);
	const heads = grouped.map(({ head }) => head.id);
	const chosen = Number(params.get("one")) || heads[0] || null;
	const set = (name: string, value: string) =>
		setParams((now) => {
			now.set(name, value);
			return now;
		});
	const move = (by: number) => {
		const next = heads[heads.indexOf(chosen ?? 0) + by];
		if (next) set("one", String(next));
	};
	useKeys({ j: () => move(1), k: () => move(-1), ArrowDown: () => move(1), ArrowUp: () => move(-1) });
	return (
		<main className={classes.screen}>
			<AlertsHead>
				<SegmentedControl
					aria-label="Which"
					size="xs"
					data={SHOWN}
					value={shown}
					onChange={(value) => {
						setSaid(null);
						setParams({ show: value, priority: least });
					}}
				/>
				<Select
					aria-label="From which priority"
					size="xs"
					w={190}
					data={PRIORITIES}
					value={PRIORITIES.some(({ value }) => value === least) ? least : LISTED}
					onChange={(value) => value && set("priority", value)}
					allowDeselect={false}
				/>
				{data && (
					<p className={classes.counts} data-counts>
						<b>{number(data.counts.open)} open</b> {number(data.counts.muted)} muted, {number(data.counts.normal)}{" "}
						normal
						{data.less > 0 && `, ${number(data.less)} of less priority`}
					</p>
				)}
			</AlertsHead>
			{(error ?? say.error) && (
				<p className={classes.problem} role="alert">
					{(error ?? say.error)?.message}
				</p>
			)}
			{said && <Gone onUndo={() => say.mutate(said.before, { onSuccess: () => setSaid(null) })}>{said.now}</Gone>}
			<div className={classes.body}>
				<div className={classes.scroll}>
					{data && grouped.length === 0 && (
						<p className={classes.hint}>
							{NONE[shown]} Patterns, values, services and machines are set against the same hour of the days and weeks
							before, once {data.baseline_days} days of them are known.
							{data.judged_us && ` It was looked at up to ${day(data.judged_us, zone)} ${clock(data.judged_us, zone)}.`}
						</p>
					)}
					{grouped.length > 0 && (
						<table className={classes.table}>
							<thead>
								<tr>
									<th scope="col" aria-label="severity" />
									<th scope="col" className={classes.number}>
										priority
									</th>
									<th scope="col" aria-label="kind" />
									<th scope="col">what is unusual</th>
									<th scope="col">since</th>
									<th scope="col" className={classes.number}>
										lines
									</th>
								</tr>
							</thead>
							<tbody>
								{grouped.map((group) => (
									<Rows key={group.head.id} group={group} chosen={chosen} onChoose={(id) => set("one", String(id))} />
								))}
							</tbody>
						</table>
					)}
					{data && data.left_out.length > 0 && (
						<div className={classes.hint}>
							Left out:
							<Sources sources={data.left_out} />
						</div>
					)}
					{data && grouped.length > 0 && (
						<p className={classes.hint}>What began {data.normal_days} days ago is taken as normal by itself.</p>
					)}
					{data && data.total > data.oddities.length && (
						<p className={classes.hint}>
							The most urgent {number(data.oddities.length)} of {number(data.total)} are shown.
						</p>
					)}
				</div>
				{chosen !== null && (
					<OddityPanel
						key={chosen}
						id={chosen}
						onSaid={(before) => {
							const other = heads[heads.indexOf(chosen) + 1] ?? heads[heads.indexOf(chosen) - 1];
							setSaid({ before, now: before.state === "open" ? "It is not listed any more." : "It is open again." });
							if (other) set("one", String(other));
						}}
					/>
				)}
			</div>
			<KeyHints keys={KEYS} />
		</main>
	);
}
