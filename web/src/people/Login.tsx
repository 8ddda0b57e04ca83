import { Button, PasswordInput, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import classes from "./People.module.css";
import { SESSION } from "./session";

/** Who is not logged in sees nothing else. */
export function Login() {
	const queries = useQueryClient();
	const [name, setName] = useState("");
	const [password, setPassword] = useState("");
	const login = useMutation({
		mutationFn: () => answer(api.POST("/api/session", { body: { name, password } })),
		// What somebody else was shown before is not shown to this person.
		onSuccess: (session) => {
			queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== SESSION[0] });
			queries.setQueryData(SESSION, session);
		},
		onError: () => setPassword(""),
	});
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
				{login.error && (
					<p className={classes.problem} role="alert">
						{login.error.message}
					</p>
				)}
				<Button type="submit" loading={login.isPending}>
					Log in
				</Button>
				<p className={classes.hint}>Forgot your password? An administrator can give you a reset link.</p>
			</form>
		</main>
	);
}
