import { Button, PasswordInput, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, Problem } from "../api/client";
import { SESSION } from "../shared/session";
import classes from "./People.module.css";

const CODE_NEEDED = "/problems/code-needed";
const WRONG_CODE = "/problems/wrong-code";

/** Why a login at another provider came to nothing. */
const REFUSALS: Record<string, string> = {
	unreachable: "The login service does not answer. Try again, or use your password.",
	late: "The login took too long or was started in another browser. Try again.",
	refused: "The login service did not confirm who you are.",
	unknown: "You are not known here. An administrator can add you.",
};

function OtherLogin({ name }: { name: string }) {
	const why = REFUSALS[new URLSearchParams(window.location.search).get("login") ?? ""];
	return (
		<>
			{why && (
				<p className={classes.problem} role="alert">
					{why}
				</p>
			)}
			<Button component="a" href="/api/session/provider" variant="default">
				Log in with {name}
			</Button>
		</>
	);
}

/** Who is not logged in sees nothing else. */
export function Login({ provider }: { provider: string | null }) {
	const queries = useQueryClient();
	const [name, setName] = useState("");
	const [password, setPassword] = useState("");
	const [code, setCode] = useState("");
	const [asked, setAsked] = useState(false);
	const login = useMutation({
		mutationFn: () => answer(api.POST("/api/session", { body: { name, password, ...(asked && { code }) } })),
		// What somebody else was shown before is not shown to this person.
		onSuccess: (session) => {
			queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== SESSION[0] });
			queries.setQueryData(SESSION, session);
		},
		onError: (problem) => {
			setCode("");
			const type = problem instanceof Problem ? problem.details.type : null;
			if (type === CODE_NEEDED) return setAsked(true);
			if (type === WRONG_CODE) return;
			setAsked(false);
			setPassword("");
		},
	});
	// That a code is needed is no mistake.
	const problem = login.error instanceof Problem && login.error.details.type === CODE_NEEDED ? null : login.error;
	return (
		<main className={classes.login}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					login.mutate();
				}}
			>
				<h1>Northdrift</h1>
				<TextInput
					label="Name"
					autoComplete="username"
					value={name}
					onChange={(event) => setName(event.currentTarget.value)}
					required
					withAsterisk={false}
					autoFocus
				/>
				<PasswordInput
					label="Password"
					autoComplete="current-password"
					value={password}
					onChange={(event) => setPassword(event.currentTarget.value)}
					required
					withAsterisk={false}
				/>
				{asked && (
					<TextInput
						label="Code"
						description="From your authenticator app, or a recovery code"
						autoComplete="one-time-code"
						value={code}
						onChange={(event) => setCode(event.currentTarget.value)}
						required
						withAsterisk={false}
						autoFocus
					/>
				)}
				{problem && (
					<p className={classes.problem} role="alert">
						{problem.message}
					</p>
				)}
				<Button type="submit" loading={login.isPending}>
					Log in
				</Button>
				{provider && <OtherLogin name={provider} />}
				<p className={classes.hint}>Forgot your password? An administrator can give you a reset link.</p>
			</form>
		</main>
	);
}
