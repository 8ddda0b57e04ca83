import { ActionIcon, Button, CopyButton, Menu, Tooltip } from "@mantine/core";
import {
	IconChevronDown,
	IconChevronUp,
	IconColumnInsertRight,
	IconCopy,
	IconEqual,
	IconEqualNot,
	IconVolumeOff,
	IconX,
} from "@tabler/icons-react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../api/client";
import type { FieldValue } from "../api/types";
import { PinButton } from "../cases/PinButton";
import { Remedies } from "../cases/Remedies";
import { RenameMachine } from "../fleet/RenameMachine";
import { noiseFrom, parserFrom } from "../rules/api";
import { differs, equals, has } from "../shared/question";
import { SeverityWord } from "../shared/severity";
import { bytes, clockExact, dayAndYear, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { threadFields } from "../thread/Thread";
import { Message } from "./highlight";
import classes from "./Inspector.module.css";

interface Props {
	id: string;
	match: RegExp | null;
	columns: string[];
	onChip: (chip: string) => void;
	onColumn: (field: string) => void;
	onAround: (fromUs: number, toUs: number, chips: string[]) => void;
	/** Opens what the line belongs to: nearby, seen, file, or a field. */
	onThread: (thread: string) => void;
	onStep: (by: 1 | -1) => void;
	onClose: () => void;
}

const AROUND: [string, number][] = [
	["10 s", 10],
	["1 min", 60],
	["10 min", 600],
];

function Field({
	name,
	value,
	shown,
	onChip,
	onColumn,
}: {
	name: string;
	value: FieldValue;
	shown: boolean;
	onChip: (chip: string) => void;
	onColumn: (field: string) => void;
}) {
	const navigate = useNavigate();
	const actions = [
		{ label: `only ${name} = ${value}`, icon: <IconEqual size={14} />, act: () => onChip(equals(name, value)) },
		{ label: `not ${name} = ${value}`, icon: <IconEqualNot size={14} />, act: () => onChip(differs(name, value)) },
		{
			label: shown ? "no column any more" : "as a column",
			icon: <IconColumnInsertRight size={14} />,
			act: () => onColumn(name),
		},
		{
			label: `a noise rule from ${name} = ${value}`,
			icon: <IconVolumeOff size={14} />,
			act: () => void navigate(noiseFrom(equals(name, value))),
		},
	];
	return (
		<div className={classes.field}>
			<dt>
				<Tooltip label={`only lines that have ${name}`} openDelay={500}>
					<button type="button" className="plain" onClick={() => onChip(has(name))}>
						{name}
					</button>
				</Tooltip>
			</dt>
			<dd>
				<button
					type="button"
					className="plain"
					title={`only ${name} = ${value}`}
					onClick={() => onChip(equals(name, value))}
				>
					{String(value)}
				</button>
			</dd>
			<dd className={classes.actions}>
				{actions.map(({ label, icon, act }) => (
					<Tooltip key={label} label={label} openDelay={300}>
						<ActionIcon size={24} variant="subtle" aria-label={label} onClick={act}>
							{icon}
						</ActionIcon>
					</Tooltip>
				))}
				<CopyButton value={String(value)}>
					{({ copied, copy }) => (
						<Tooltip label={copied ? "copied" : "copy the value"} openDelay={300}>
							<ActionIcon size={24} variant="subtle" aria-label={`copy ${name}`} onClick={copy}>
								<IconCopy size={14} />
							</ActionIcon>
						</Tooltip>
					)}
				</CopyButton>
			</dd>
		</div>
	);
}

/** Everything about the chosen line: what it says, its fields, where it came from and how it was read. */
export function Inspector({ id, match, columns, onChip, onColumn, onAround, onThread, onStep, onClose }: Props) {
	const { zone } = useZone();
	const [raw, setRaw] = useState(false);
	const { data: line, error } = useQuery({
		queryKey: ["line", id],
		queryFn: ({ signal }) => answer(api.GET("/api/lines/{id}", { params: { path: { id } }, signal })),
		placeholderData: (before) => before,
	});

	if (error) return <aside className={classes.inspector}>{error.message}</aside>;
	if (!line) return <aside className={classes.inspector} aria-busy />;

	const names: [string, FieldValue | null][] = [
		["host.name", line.machine],
		["service.name", line.service],
		...Object.entries(line.fields),
	];
	const said = new Set(line.fleet.map(({ field }) => field));
	const where = `${line.source}:${line.line_number}`;
	return (
		<aside className={classes.inspector} aria-label="Chosen line">
			<div className={classes.top}>
				<span>
					<SeverityWord code={line.severity} /> · {line.machine ?? "no machine"} · {line.service ?? "no service"}
				</span>
				<span className={classes.step}>
					<ActionIcon size={24} variant="subtle" aria-label="previous line" onClick={() => onStep(-1)}>
						<IconChevronUp size={16} />
					</ActionIcon>
					<ActionIcon size={24} variant="subtle" aria-label="next line" onClick={() => onStep(1)}>
						<IconChevronDown size={16} />
					</ActionIcon>
					<ActionIcon size={24} variant="subtle" aria-label="close" onClick={onClose}>
						<IconX size={16} />
					</ActionIcon>
				</span>
			</div>
			<p className={classes.time}>
				{dayAndYear(line.time_us, zone)} {clockExact(line.time_us, zone)}
			</p>
			<pre className={classes.message} data-message>
				{raw ? line.raw : <Message text={line.message || "(empty)"} match={match} />}
			</pre>
			<div className={classes.buttons}>
				<PinButton what={{ kind: "line", id: line.id }} title={line.message.split("\n", 1)[0]?.slice(0, 80) ?? ""} />
				<Menu position="bottom-start">
					<Menu.Target>
						<Button variant="default" size="compact-md">
							Around this ▾
						</Button>
					</Menu.Target>
					<Menu.Dropdown>
						{AROUND.map(([name, seconds]) => (
							<Menu.Item
								key={name}
								onClick={() => onAround(line.time_us - seconds * 1_000_000, line.time_us + seconds * 1_000_000, [])}
							>
								{name} around, all machines
							</Menu.Item>
						))}
						{line.machine && (
							<Menu.Item
								onClick={() =>
									onAround(line.time_us - 60_000_000, line.time_us + 60_000_000, [
										equals("host.name", line.machine ?? ""),
									])
								}
							>
								1 min around, {line.machine} alone
							</Menu.Item>
						)}
					</Menu.Dropdown>
				</Menu>
				<CopyButton value={line.raw}>
					{({ copied, copy }) => (
						<Button variant="default" size="compact-md" onClick={copy}>
							{copied ? "Copied" : "Copy"}
						</Button>
					)}
				</CopyButton>
				<Button variant="default" size="compact-md" aria-pressed={raw} onClick={() => setRaw((now) => !now)}>
					{raw ? "Message" : "Raw"}
				</Button>
			</div>
			<div className={classes.thread}>
				<span>Thread:</span>
				<button type="button" onClick={() => onThread("nearby")}>
					nearby
				</button>
				{threadFields(line).map((field) => (
					<button key={field} type="button" onClick={() => onThread(field)}>
						same {field}
					</button>
				))}
				<button type="button" onClick={() => onThread("seen")}>
					seen before
				</button>
				<button type="button" onClick={() => onThread("file")}>
					in its file
				</button>
				<button type="button" onClick={() => onThread("changed")}>
					what changed before
				</button>
			</div>
			{line.machine && line.inferred.includes("machine") && (
				<div className={classes.derived}>
					The line names no machine: {line.machine} is where it came from.{" "}
					<RenameMachine key={line.machine} machine={line.machine} />
				</div>
			)}
			<h2>Fields</h2>
			<dl className={classes.fields}>
				{names.map(([name, value]) =>
					value === null || said.has(name) ? null : (
						<Field
							key={name}
							name={name}
							value={value}
							shown={columns.includes(name)}
							onChip={onChip}
							onColumn={onColumn}
						/>
					),
				)}
			</dl>
			{line.fleet.length > 0 && (
				<>
					<h2>
						Its machine <Link to={`/fleet?${new URLSearchParams({ text: line.machine ?? "" })}`}>in the fleet</Link>
					</h2>
					<dl className={classes.fields}>
						{line.fleet.map(({ field, value }) => (
							<Field
								key={`${field} ${value}`}
								name={field}
								value={value}
								shown={columns.includes(field)}
								onChip={onChip}
								onColumn={onColumn}
							/>
						))}
					</dl>
				</>
			)}
			<h2>Pattern</h2>
			<Remedies remedies={line.remedies} />
			<p className={classes.pattern}>
				<button type="button" className="plain" onClick={() => onChip(equals("pattern", line.pattern.name))}>
					{line.pattern.name}
				</button>{" "}
				{line.pattern.text}
			</p>
			<div className={classes.make}>
				<Link to={parserFrom({ line: line.id })}>make a parser from this line</Link>
				<Link to={noiseFrom(equals("pattern", line.pattern.name))}>a noise rule from its pattern</Link>
			</div>
			<h2>Where it came from</h2>
			<dl className={classes.facts}>
				<dt>source</dt>
				<dd title={where}>
					<button type="button" className="plain" onClick={() => onChip(equals("source", line.source))}>
						{where}
					</button>
				</dd>
				<dt>place</dt>
				<dd>
					line {number(line.line_number)}, byte {number(line.offset)}, {bytes(line.bytes)} long
				</dd>
				<dt>read as</dt>
				<dd>
					{line.reader.title}: {line.reader.why}
				</dd>
				<dt>severity</dt>
				<dd>{line.severity_rule ?? "set by a rule that has changed since"}</dd>
				{line.inferred.length > 0 && (
					<>
						<dt>inferred</dt>
						<dd>
							{line.inferred.map((name) => name.replace("repeated_hour", "which of two equal hours")).join(", ")}
							{line.inferred.includes("zone") && ` (${line.zone})`}
						</dd>
					</>
				)}
				{line.note && (
					<>
						<dt>note</dt>
						<dd>{line.note}</dd>
					</>
				)}
			</dl>
		</aside>
	);
}
