import { Button, Menu, Modal, TextInput } from "@mantine/core";
import { useState } from "react";
import { Link } from "react-router";
import { useBarred } from "../shared/session";
import { useCaseChanges, useCases } from "./api";
import classes from "./Cases.module.css";
import { useCurrentCase } from "./current";

const MOST = 8;

/** Starts a case, and makes it the one that things are pinned to. */
function Start({ title, onDone }: { title: string; onDone: () => void }) {
	const { choose } = useCurrentCase();
	const { start } = useCaseChanges();
	const [name, setName] = useState(title);
	const begin = () =>
		start.mutate(
			{ title: name.trim() },
			{
				onSuccess: (made) => {
					choose(made.id);
					onDone();
				},
			},
		);
	return (
		<form
			className={classes.start}
			onSubmit={(event) => {
				event.preventDefault();
				if (name.trim()) begin();
			}}
		>
			<TextInput
				label="What is it about?"
				value={name}
				onChange={(event) => setName(event.currentTarget.value)}
				error={start.error?.message}
				data-autofocus
			/>
			<Button type="submit" disabled={!name.trim()} loading={start.isPending}>
				Start the case
			</Button>
		</form>
	);
}

/** The case that a person works on, in the top bar: choose another, start one, or none. */
export function CaseBadge() {
	const { current, choose, waiting, giveUp, told } = useCurrentCase();
	const [starting, setStarting] = useState(false);
	const barred = useBarred("POST /api/cases");
	const open = useCases("").data?.cases.filter((one) => one.status === "open") ?? [];
	const close = () => {
		setStarting(false);
		giveUp();
	};
	return (
		<>
			<Menu position="bottom-end" width={300}>
				<Menu.Target>
					<button type="button" className={classes.badge} data-case={current?.id ?? ""}>
						{told ?? (current ? `Case ${current.id} · ${current.title}` : "no case")} ▾
					</button>
				</Menu.Target>
				<Menu.Dropdown>
					{current && (
						<Menu.Item component={Link} to={`/cases/${current.id}`}>
							open “{current.title}” ({current.pins} pinned)
						</Menu.Item>
					)}
					{open
						.filter((one) => one.id !== current?.id)
						.slice(0, MOST)
						.map((one) => (
							<Menu.Item key={one.id} onClick={() => choose(one.id)}>
								go on with case {one.id}: {one.title}
							</Menu.Item>
						))}
					<Menu.Item {...barred} onClick={() => setStarting(true)}>
						start a case
					</Menu.Item>
					{current && <Menu.Item onClick={() => choose(null)}>work on none</Menu.Item>}
				</Menu.Dropdown>
			</Menu>
			<Modal
				opened={starting || waiting !== null}
				onClose={close}
				title={waiting ? "Pin it to a case" : "Start a case"}
			>
				{waiting && open.length > 0 && (
					<ul className={classes.choice} aria-label="Open cases">
						{open.slice(0, MOST).map((one) => (
							<li key={one.id}>
								<Button variant="default" fullWidth justify="flex-start" onClick={() => choose(one.id)}>
									Case {one.id}: {one.title}
								</Button>
							</li>
						))}
					</ul>
				)}
				{(starting || waiting) && <Start title={waiting?.title ?? ""} onDone={() => setStarting(false)} />}
			</Modal>
		</>
	);
}
