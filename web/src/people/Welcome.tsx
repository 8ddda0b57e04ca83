import { Button } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { answer, api } from "../api/client";
import { NewPassword } from "./NewPassword";
import classes from "./People.module.css";

/** Where a link leads that lets a person choose a password. What it has stands behind the #, which no server is sent. */
export function Welcome() {
	const secret = useLocation().hash.slice(1);
	const [password, setPassword] = useState("");
	const whose = useQuery({
		queryKey: ["invitation", secret],
		queryFn: () => answer(api.POST("/api/invitations", { body: { secret } })),
	});
	const choose = useMutation({
		mutationFn: () => answer(api.PUT("/api/invitations", { body: { secret, password } })),
	});
	return (
		<main className={classes.login}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					choose.mutate();
				}}
			>
				<h1>Northdrift</h1>
				{whose.error && <p className={classes.problem}>{whose.error.message}</p>}
				{choose.isSuccess ? (
					<p role="status">
						Password set for {choose.data.name}. <Link to="/">Log in</Link>
					</p>
				) : (
					whose.data && (
						<>
							<p>Choose a password for {whose.data.name}.</p>
							<NewPassword value={password} onChange={setPassword} />
							{choose.error && (
								<p className={classes.problem} role="alert">
									{choose.error.message}
								</p>
							)}
							<Button type="submit" loading={choose.isPending}>
								Set password
							</Button>
						</>
					)
				)}
			</form>
		</main>
	);
}
