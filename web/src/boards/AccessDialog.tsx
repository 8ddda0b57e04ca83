import { Button, Modal, MultiSelect } from "@mantine/core";
import { useState } from "react";
import { type Board, useBoardChanges } from "../cards/api";
import classes from "./Boards.module.css";

/** Who may see a board, and who may change it. */
export function AccessDialog({ board, onClose }: { board: Board; onClose: () => void }) {
	const { allow } = useBoardChanges();
	const [read, setRead] = useState(board.access.read ?? []);
	const [edit, setEdit] = useState(board.access.edit ?? []);
	const known = board.grants.map(({ grant, title }) => ({ value: grant, label: title }));
	// Somebody may be gone who could see it.
	const data = [
		...known,
		...[...new Set([...read, ...edit])]
			.filter((one) => known.every(({ value }) => value !== one))
			.map((one) => ({ value: one, label: one })),
	];
	return (
		<Modal opened onClose={onClose} title="Access">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					allow.mutate({ id: board.id, access: { read, edit } }, { onSuccess: onClose });
				}}
			>
				<p className={classes.second}>
					{board.made_by ?? "Whoever made it"} and administrators always may. Each reader sees only the lines that they
					may see.
				</p>
				<MultiSelect
					label="Can see it"
					placeholder={read.length ? "" : "nobody else"}
					data={data}
					value={read}
					onChange={setRead}
					searchable
				/>
				<MultiSelect
					label="Can change it"
					placeholder={edit.length ? "" : "nobody else"}
					data={data}
					value={edit}
					onChange={setEdit}
					searchable
				/>
				{allow.error && (
					<p className={classes.problem} role="alert">
						{allow.error.message}
					</p>
				)}
				<div className={classes.buttons}>
					<Button variant="default" onClick={onClose}>
						Cancel
					</Button>
					<Button type="submit" loading={allow.isPending}>
						Save
					</Button>
				</div>
			</form>
		</Modal>
	);
}
