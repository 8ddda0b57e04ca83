import { Button, Menu } from "@mantine/core";
import { Link } from "react-router";
import { type Board, useBoardChanges, useBoards } from "../cards/api";
import sentence from "../investigate/Sentence.module.css";
import { WindowPicker } from "../investigate/WindowPicker";
import { useScopes } from "../searches/api";
import { COMPARISONS, comparedName } from "../shared/compared";
import { Allowed } from "../shared/session";
import { useZone } from "../shared/zone";
import { BoardMenu } from "./BoardMenu";
import classes from "./Boards.module.css";
import { VariablePicker } from "./VariablePicker";
import { type View, variableKey } from "./view";

interface Props {
	board: Board;
	view: View;
	onArrange: () => void;
}

/** One word of the sentence that is chosen among others. */
function Choice({ name, label, options }: { name: string; label: string; options: [string, () => void][] }) {
	return (
		<Menu position="bottom-start">
			<Menu.Target>
				<button type="button" className={sentence.choice} title={label}>
					{name} ▾
				</button>
			</Menu.Target>
			<Menu.Dropdown className={classes.tall}>
				{options.map(([title, choose]) => (
					<Menu.Item key={title} onClick={choose}>
						{title}
					</Menu.Item>
				))}
			</Menu.Dropdown>
		</Menu>
	);
}

function OtherBoards({ board }: { board: Board }) {
	const others = useBoards().data?.boards.filter(({ id }) => id !== board.id) ?? [];
	return (
		<Menu position="bottom-start">
			<Menu.Target>
				<button type="button" className={classes.title}>
					{board.definition.title} ▾
				</button>
			</Menu.Target>
			<Menu.Dropdown className={classes.tall}>
				{others.map(({ id, title }) => (
					<Menu.Item key={id} component={Link} to={`/boards/${id}`}>
						{title}
					</Menu.Item>
				))}
				{others.length > 0 && <Menu.Divider />}
				<Menu.Item component={Link} to="/boards">
					All boards
				</Menu.Item>
			</Menu.Dropdown>
		</Menu>
	);
}

/** What all cards have in common, as a sentence. */
export function BoardSentence({ board, view, onArrange }: Props) {
	const { zone } = useZone();
	const { favour } = useBoardChanges();
	const scopes = useScopes().data?.scopes ?? [];
	const { definition, favourite } = board;
	const { compared, scope, span, choose } = view;
	return (
		<>
			<h1>
				<OtherBoards board={board} />
			</h1>
			<span className={classes.word}>on</span>
			{definition.find && <code>{definition.find}</code>}
			<Choice
				name={scope || (definition.find ? "and no scope" : "everything")}
				label="Scope"
				options={[
					["everything", () => choose({ scope: null })],
					...scopes.map(({ name }): [string, () => void] => [name, () => choose({ scope: name })]),
				]}
			/>
			<span className={classes.word}>between</span>
			{span && <WindowPicker fromUs={span.fromUs} toUs={span.toUs} onChoose={view.chooseTime} />}
			<span className={classes.word}>compared with</span>
			<Choice
				name={comparedName(compared, zone)}
				label="Compared with"
				options={Object.entries(COMPARISONS).map(([value, name]) => [name, () => choose({ with: value })])}
			/>
			{definition.variables?.map(({ name, field }) => (
				<VariablePicker
					key={name}
					name={name}
					field={field}
					value={view.values[name] ?? ""}
					onChoose={(value) => choose({ [variableKey(name)]: value })}
				/>
			))}
			<span className={classes.buttons}>
				<Allowed to="PUT /api/boards/{id}/favourite">
					<button
						type="button"
						className={classes.star}
						aria-pressed={favourite}
						aria-label="Favourite"
						title={favourite ? "one of your favourites" : "make it one of your favourites"}
						onClick={() => favour.mutate({ id: board.id, favourite: !favourite })}
					>
						{favourite ? "★" : "☆"}
					</button>
				</Allowed>
				<BoardMenu board={board} />
				{board.editable && (
					<Allowed to="PATCH /api/boards/{id}">
						<Button onClick={onArrange}>Arrange</Button>
					</Allowed>
				)}
			</span>
		</>
	);
}
