import { Button, Modal, Textarea } from "@mantine/core";
import { useState } from "react";
import classes from "./Alerts.module.css";

interface Props {
	title: string;
	label: string;
	description?: string;
	/** What is in it at first. */
	value?: string;
	action: string;
	onDone: (text: string) => void;
	onCancel: () => void;
}

/** Asks for some words. */
export function TextForm({ title, label, description, value = "", action, onDone, onCancel }: Props) {
	const [text, setText] = useState(value);
	return (
		<Modal opened onClose={onCancel} title={title}>
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					onDone(text.trim());
				}}
			>
				<Textarea
					label={label}
					description={description}
					autosize
					minRows={2}
					value={text}
					onChange={(event) => setText(event.currentTarget.value)}
					data-autofocus
				/>
				<Button type="submit">{action}</Button>
			</form>
		</Modal>
	);
}

/** Asks what helped. */
export function CloseForm({
	title,
	remedy,
	...rest
}: { title: string; remedy: string } & Pick<Props, "onDone" | "onCancel">) {
	return (
		<TextForm
			title={title}
			label="What helped?"
			description="It is offered when this comes again."
			value={remedy}
			action="Close alert"
			{...rest}
		/>
	);
}
