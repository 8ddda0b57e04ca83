import { ActionIcon, Button, Popover, Progress, TextInput } from "@mantine/core";
import { IconFilePlus, IconX } from "@tabler/icons-react";
import { useEffect, useState } from "react";
import appClasses from "../App.module.css";
import { RenameMachine } from "../fleet/RenameMachine";
import { Allowed, useWhyNot } from "../shared/session";
import { useZone } from "../shared/zone";
import { dropped } from "./files";
import { doubts, outcome, placed, share } from "./outcome";
import { ended, kept, type Sending } from "./sending";
import classes from "./Uploads.module.css";
import { useUploads } from "./useUploads";

function Row({ sending }: { sending: Sending }) {
	const { cancel } = useUploads();
	const over = ended(sending);
	const problems = (sending.import?.results ?? []).filter((one) => one.problem);
	const bad = sending.problem !== null || sending.import?.state === "failed" || problems.length > 0;
	return (
		<li className={classes.file} data-ended={over || undefined}>
			<div className={classes.name}>
				<span title={sending.name}>{sending.name}</span>
				{kept(sending) && (
					<Button size="compact-xs" variant="subtle" onClick={() => cancel(sending.key)}>
						Take back
					</Button>
				)}
				{!over && (
					<ActionIcon
						size="sm"
						variant="subtle"
						aria-label={`stop ${sending.name}`}
						onClick={() => cancel(sending.key)}
					>
						<IconX size={14} />
					</ActionIcon>
				)}
			</div>
			{!over && <Progress value={share(sending)} size="sm" aria-label={`progress of ${sending.name}`} />}
			<p className={bad && !problems.length ? classes.bad : classes.said}>{outcome(sending)}</p>
			{over &&
				doubts(sending.import?.results ?? []).map((text) => (
					<p key={text} className={classes.said}>
						{text}
					</p>
				))}
			{over &&
				placed(sending.import?.results ?? []).map((machine) => (
					<div key={machine} className={classes.said}>
						Lines that name no machine are of {machine}. <RenameMachine machine={machine} />
					</div>
				))}
			{problems.map((one) => (
				<p key={one.name} className={classes.bad}>
					{problems.length > 1 || one.name !== sending.name ? `${one.name}: ` : ""}
					{one.problem}
				</p>
			))}
		</li>
	);
}

/** Adding files: by a button, or by dropping them anywhere. */
export function Uploads() {
	const { sendings, machine, setMachine, add, pick, clear } = useUploads();
	const { zone } = useZone();
	const [open, setOpen] = useState(false);
	const [over, setOver] = useState(false);
	const may = useWhyNot("POST /api/imports") === null;

	useEffect(() => {
		const files = (event: DragEvent) => may && (event.dataTransfer?.types.includes("Files") ?? false);
		const onOver = (event: DragEvent) => {
			if (!files(event)) return;
			event.preventDefault();
			setOver(true);
		};
		const onLeave = (event: DragEvent) => {
			if (event.relatedTarget === null) setOver(false);
		};
		const onDrop = (event: DragEvent) => {
			if (!files(event) || !event.dataTransfer) return;
			event.preventDefault();
			setOver(false);
			void dropped(event.dataTransfer).then(add);
		};
		window.addEventListener("dragover", onOver);
		window.addEventListener("dragleave", onLeave);
		window.addEventListener("drop", onDrop);
		return () => {
			window.removeEventListener("dragover", onOver);
			window.removeEventListener("dragleave", onLeave);
			window.removeEventListener("drop", onDrop);
		};
	}, [add, may]);

	const count = sendings.length;
	useEffect(() => {
		if (count) setOpen(true);
	}, [count]);
	const left = sendings.filter((one) => !ended(one)).length;

	return (
		<>
			<Popover opened={open} onChange={setOpen} position="bottom-end" width={420}>
				<Allowed to="POST /api/imports">
					<Popover.Target>
						<button
							type="button"
							className={appClasses.setting}
							onClick={() => setOpen((now) => !now)}
							aria-expanded={open}
						>
							<IconFilePlus size={16} aria-hidden />{" "}
							{left ? `Reading ${left} ${left === 1 ? "file" : "files"}` : "Add files"}
						</button>
					</Popover.Target>
				</Allowed>
				<Popover.Dropdown>
					<div className={classes.buttons}>
						<Button size="xs" onClick={() => pick("files")}>
							Choose files
						</Button>
						<Button size="xs" variant="default" onClick={() => pick("folder")}>
							Choose a folder
						</Button>
						{sendings.some(ended) && (
							<Button size="xs" variant="subtle" onClick={clear}>
								Clear the list
							</Button>
						)}
					</div>
					<TextInput
						size="xs"
						mt="xs"
						label="Machine of lines that name none"
						placeholder="named after the folder, archive or upload"
						value={machine}
						onChange={(event) => setMachine(event.currentTarget.value)}
						description={`Stamps without a zone are taken as ${zone}.`}
					/>
					<ul className={classes.files} aria-label="Files">
						{sendings.map((sending) => (
							<Row key={sending.key} sending={sending} />
						))}
					</ul>
				</Popover.Dropdown>
			</Popover>
			{over && <div className={classes.over}>Drop to read these files</div>}
		</>
	);
}
