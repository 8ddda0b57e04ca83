import { Button, TextInput } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useBoardChanges, useBoards } from "../cards/api";
import { authors } from "../shared/authors";
import { Gone } from "../shared/IntakeHead";
import { Allowed } from "../shared/session";
import { dayAndYear, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";

/** All boards, by title. */
export function Boards() {
	const { zone } = useZone();
	const navigate = useNavigate();
	const [params, setParams] = useSearchParams();
	const [text, setText] = useState("");
	const { data, error } = useBoards();
	const { make, restore } = useBoardChanges();
	const gone = Number(params.get("gone"));
	const words = text.toLowerCase().split(/\s+/).filter(Boolean);
	const boards = (data?.boards ?? []).filter(({ title, tags }) =>
		words.every((word) => [title, ...tags].some((one) => one.toLowerCase().includes(word))),
	);
	const problem = error ?? make.error ?? restore.error;
	const begin = () => make.mutate({ title: "A new board" }, { onSuccess: (board) => navigate(`/boards/${board.id}`) });
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				<h1>Boards</h1>
				<TextInput
					aria-label="Search the boards"
					placeholder="a word of the title, a tag"
					w={260}
					value={text}
					onChange={(event) => setText(event.currentTarget.value)}
				/>
				<Allowed to="POST /api/boards">
					<Button onClick={begin} loading={make.isPending}>
						New board
					</Button>
				</Allowed>
			</header>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{gone > 0 && (
				<Gone onUndo={() => restore.mutate(gone, { onSuccess: () => setParams({}) })}>The board is deleted.</Gone>
			)}
			{data && boards.length === 0 && (
				<p className={classes.hint}>
					{words.length > 0
						? "No board has these words."
						: "No boards yet. A board keeps charts side by side, all of one time: make one, and put on it what you measure in Investigate."}
				</p>
			)}
			<ol className={classes.list}>
				{boards.map((board) => (
					<li key={board.id} data-board={board.title}>
						<Link to={`/boards/${board.id}`}>{board.title}</Link>
						<span className={classes.second}>
							{number(board.cards)} {board.cards === 1 ? "card" : "cards"}
						</span>
						<span className={classes.second}>{board.tags.join(", ")}</span>
						<span className={classes.second} title={authors(board).slice(3)}>
							{dayAndYear(board.changed_us, zone)}
						</span>
					</li>
				))}
			</ol>
		</main>
	);
}
