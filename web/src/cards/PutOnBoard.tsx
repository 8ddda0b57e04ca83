import { Button, Modal, NativeSelect, TextInput } from "@mantine/core";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { useBarred } from "../shared/session";
import { type Drawing, useBoardChanges, useBoards } from "./api";
import classes from "./Cards.module.css";

const NEW = "";

interface What {
	/** What the card asks, as its link has it. */
	query: string;
	drawing: Drawing;
	/** What the card is called, where nobody calls it otherwise. */
	title: string;
}

interface Props extends What {
	/** What opens the form, where that is no button of the usual kind. */
	opener?: (open: () => void, barred: ReturnType<typeof useBarred>) => ReactNode;
}

function PutForm({ query, drawing, title: usual, onClose }: What & { onClose: () => void }) {
	const { data } = useBoards();
	const { make, add } = useBoardChanges();
	const [chosen, setChosen] = useState<string | null>(null);
	const [name, setName] = useState("");
	const [title, setTitle] = useState(usual);
	const boards = data?.boards ?? [];
	const board = chosen ?? String(boards[0]?.id ?? NEW);
	const problem = make.error ?? add.error;
	const put = (id: number) => add.mutate({ id, card: { title: title.trim(), drawing, query } });
	if (add.data)
		return (
			<p role="status">
				It is on <Link to={`/boards/${add.data.id}`}>{add.data.definition.title}</Link>.
			</p>
		);
	return (
		<form
			className={classes.form}
			onSubmit={(event) => {
				event.preventDefault();
				if (board !== NEW) put(Number(board));
				else make.mutate({ title: name.trim() }, { onSuccess: (made) => put(made.id) });
			}}
		>
			<NativeSelect
				label="Board"
				data={[
					...boards.map(({ id, title: of }) => ({ value: String(id), label: of })),
					{ value: NEW, label: "a new one" },
				]}
				value={board}
				onChange={(event) => setChosen(event.currentTarget.value)}
			/>
			{board === NEW && (
				<TextInput
					label="Title of the board"
					required
					value={name}
					onChange={(event) => setName(event.currentTarget.value)}
				/>
			)}
			<TextInput
				label="Title of the card"
				data-autofocus
				value={title}
				onChange={(event) => setTitle(event.currentTarget.value)}
			/>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			<div className={classes.buttons}>
				<Button variant="default" onClick={onClose}>
					Cancel
				</Button>
				<Button type="submit" loading={make.isPending || add.isPending}>
					Put it there
				</Button>
			</div>
		</form>
	);
}

/** Makes a card of what is asked. */
export function PutOnBoard({ opener, ...what }: Props) {
	const [opened, setOpened] = useState(false);
	const barred = useBarred("PATCH /api/boards/{id}");
	const open = () => setOpened(true);
	return (
		<>
			{opener ? (
				opener(open, barred)
			) : (
				<Button size="compact-sm" variant="default" onClick={open} {...barred}>
					Put on a board
				</Button>
			)}
			<Modal opened={opened} onClose={() => setOpened(false)} title="Put on a board">
				{opened && <PutForm {...what} onClose={() => setOpened(false)} />}
			</Modal>
		</>
	);
}
