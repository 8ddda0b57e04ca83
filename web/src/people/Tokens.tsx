import { Button, NativeSelect, NumberInput, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { limitable, ROLES, type Role } from "../shared/session";
import { dayAndYear } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./People.module.css";
import { SightField } from "./SightField";
import { Told } from "./Told";

const TOKENS = ["tokens"];
const DAYS = 90;

/** What programs ask with, in the place of a person who logs in. */
export function Tokens() {
	const { zone } = useZone();
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: TOKENS }) };
	const [name, setName] = useState("");
	const [role, setRole] = useState<Role>("viewer");
	const [sight, setSight] = useState("");
	const [days, setDays] = useState<string | number>(DAYS);
	const { data, error } = useQuery({
		queryKey: TOKENS,
		queryFn: ({ signal }) => answer(api.GET("/api/tokens", { signal })),
	});
	const make = useMutation({
		mutationFn: () =>
			answer(
				api.POST("/api/tokens", { body: { name, role, sight: limitable(role) ? sight : "", days: Number(days) } }),
			),
		...settled,
		onSuccess: () => {
			setName("");
			setSight("");
		},
	});
	const remove = useMutation({
		mutationFn: (id: number) => answer(api.DELETE("/api/tokens/{id}", { params: { path: { id } } })),
		...settled,
	});
	const problem = error ?? make.error ?? remove.error;
	const day = (us: number) => dayAndYear(us, zone);
	return (
		<section className={classes.tokens} aria-label="Tokens">
			<h2>Tokens for programs</h2>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			<form
				className={classes.add}
				onSubmit={(event) => {
					event.preventDefault();
					make.mutate();
				}}
			>
				<TextInput
					label="Used by"
					placeholder="nightly report"
					value={name}
					maxLength={80}
					onChange={(event) => setName(event.currentTarget.value)}
					required
					withAsterisk={false}
				/>
				<NativeSelect
					label="Token role"
					data={ROLES.map(({ value }) => value)}
					value={role}
					onChange={(event) => setRole(event.currentTarget.value as Role)}
				/>
				{limitable(role) && <SightField label="Token limited to" value={sight} onChange={setSight} />}
				<NumberInput
					label="Expires after (days)"
					min={1}
					max={366}
					allowDecimal={false}
					required
					withAsterisk={false}
					value={days}
					onChange={setDays}
				/>
				<Button type="submit" variant="default" loading={make.isPending}>
					Create token
				</Button>
			</form>
			{make.data && (
				<Told value={make.data.secret} onClose={make.reset}>
					Token of <b>{make.data.name}</b>, sent as <code>Authorization: Bearer …</code>. It is not shown again.
				</Told>
			)}
			{data && data.tokens.length > 0 && (
				<table className={classes.table}>
					<thead>
						<tr>
							<th scope="col">Used by</th>
							<th scope="col">Role</th>
							<th scope="col">Limited to</th>
							<th scope="col">Expires</th>
							<th scope="col">Last used</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{data.tokens.map((token) => (
							<tr key={token.id} data-token={token.name} data-disabled={token.expired || undefined}>
								<td>
									<b>{token.name}</b>
									{token.made_by && <span className={classes.second}>by {token.made_by}</span>}
								</td>
								<td>{token.role}</td>
								<td>{token.sight ?? <span className={classes.everything}>everything</span>}</td>
								<td>{token.expired ? "expired" : day(token.expires_us)}</td>
								<td>{token.used_us ? day(token.used_us) : "never"}</td>
								<td className={classes.actions}>
									<Button size="compact-xs" variant="subtle" onClick={() => remove.mutate(token.id)}>
										Revoke
									</Button>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
		</section>
	);
}
