import { Button, CopyButton, Modal, PasswordInput, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { SESSION, useSession } from "../shared/session";
import classes from "./People.module.css";

const FACTOR = "/api/session/factor";

interface AskPasswordProps {
	button: string;
	pending: boolean;
	problem: Error | null;
	onGiven: (password: string) => void;
}

function AskPassword({ button, pending, problem, onGiven }: AskPasswordProps) {
	const [password, setPassword] = useState("");
	return (
		<form
			className={classes.form}
			onSubmit={(event) => {
				event.preventDefault();
				onGiven(password);
			}}
		>
			<PasswordInput
				label="Your password"
				autoComplete="current-password"
				value={password}
				onChange={(event) => setPassword(event.currentTarget.value)}
				required
				withAsterisk={false}
				data-autofocus
			/>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			<Button type="submit" loading={pending}>
				{button}
			</Button>
		</form>
	);
}

function Codes({ codes, onClose }: { codes: string[]; onClose: () => void }) {
	return (
		<div className={classes.form}>
			<p>
				Two-factor login is on. Keep these recovery codes somewhere safe: each logs you in once, if you lose your phone.
				They are not shown again.
			</p>
			<ol className={classes.codes} data-codes>
				{codes.map((code) => (
					<li key={code}>{code}</li>
				))}
			</ol>
			<CopyButton value={codes.join("\n")}>
				{({ copied, copy }) => (
					<Button variant="default" onClick={copy}>
						{copied ? "Copied" : "Copy all"}
					</Button>
				)}
			</CopyButton>
			<Button onClick={onClose}>I have saved them</Button>
		</div>
	);
}

/** Pairs an app and asks for its first code. */
function TurnOn({ onClose }: { onClose: () => void }) {
	const [code, setCode] = useState("");
	const begin = useMutation({
		mutationFn: (password: string) => answer(api.POST(FACTOR, { body: { password } })),
	});
	const confirm = useMutation({ mutationFn: () => answer(api.PUT(FACTOR, { body: { code } })) });
	if (confirm.data) return <Codes codes={confirm.data.codes} onClose={onClose} />;
	if (!begin.data)
		return (
			<>
				<p className={classes.hint}>
					Logging in then also needs a code from an authenticator app on your phone. Your other sessions are logged out.
				</p>
				<AskPassword button="Continue" pending={begin.isPending} problem={begin.error} onGiven={begin.mutate} />
			</>
		);
	return (
		<form
			className={classes.form}
			onSubmit={(event) => {
				event.preventDefault();
				confirm.mutate();
			}}
		>
			<p>Scan this with your authenticator app, or type the key into it:</p>
			<img
				className={classes.picture}
				src={`data:image/svg+xml,${encodeURIComponent(begin.data.picture)}`}
				alt="QR code for your authenticator app"
			/>
			<code className={classes.key} data-key={begin.data.secret}>
				{begin.data.secret.match(/.{1,4}/g)?.join(" ")}
			</code>
			<TextInput
				label="Code shown by the app"
				inputMode="numeric"
				autoComplete="one-time-code"
				value={code}
				onChange={(event) => setCode(event.currentTarget.value)}
				required
				withAsterisk={false}
				data-autofocus
			/>
			{confirm.error && (
				<p className={classes.problem} role="alert">
					{confirm.error.message}
				</p>
			)}
			<Button type="submit" loading={confirm.isPending}>
				Turn on
			</Button>
		</form>
	);
}

function TurnOff({ onClose }: { onClose: () => void }) {
	const end = useMutation({
		mutationFn: (password: string) => answer(api.DELETE(FACTOR, { body: { password } })),
		onSuccess: onClose,
	});
	return <AskPassword button="Turn off" pending={end.isPending} problem={end.error} onGiven={end.mutate} />;
}

/** A code of an app beside the password: on and off. */
export function TwoFactor({ onClose }: { onClose: () => void }) {
	const session = useSession();
	const queries = useQueryClient();
	// What it is turned to is seen while it is open.
	const [on] = useState(session.factor);
	const close = () => {
		void queries.invalidateQueries({ queryKey: SESSION });
		onClose();
	};
	return (
		<Modal opened onClose={close} title={on ? "Turn off two-factor login" : "Turn on two-factor login"}>
			{on ? <TurnOff onClose={close} /> : <TurnOn onClose={close} />}
		</Modal>
	);
}
