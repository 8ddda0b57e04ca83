import { Button, Menu, Modal, PasswordInput } from "@mantine/core";
import { IconUser } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import app from "../App.module.css";
import { answer, api } from "../api/client";
import { SESSION, useSession } from "../shared/session";
import { clock, dayAndYear } from "../shared/time";
import { useZone } from "../shared/zone";
import { NewPassword } from "./NewPassword";
import classes from "./People.module.css";
import { TwoFactor } from "./TwoFactor";

const BROWSERS = ["session", "browsers"];

function ChangePassword({ onClose }: { onClose: () => void }) {
	const [old, setOld] = useState("");
	const [chosen, setChosen] = useState("");
	const change = useMutation({
		mutationFn: () => answer(api.PUT("/api/session/password", { body: { old, new: chosen } })),
		onSuccess: onClose,
	});
	return (
		<Modal opened onClose={onClose} title="Change password">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					change.mutate();
				}}
			>
				<PasswordInput
					label="Old password"
					autoComplete="current-password"
					value={old}
					onChange={(event) => setOld(event.currentTarget.value)}
					required
					withAsterisk={false}
					data-autofocus
				/>
				<NewPassword value={chosen} onChange={setChosen} />
				{change.error && (
					<p className={classes.problem} role="alert">
						{change.error.message}
					</p>
				)}
				<p className={classes.hint}>This logs out all your other sessions.</p>
				<Button type="submit" loading={change.isPending}>
					Set password
				</Button>
			</form>
		</Modal>
	);
}

/** Where one is logged in. */
function Browsers({ onClose }: { onClose: () => void }) {
	const { zone } = useZone();
	const queries = useQueryClient();
	const settled = { onSuccess: (now: unknown) => queries.setQueryData(BROWSERS, now) };
	const { data, error } = useQuery({
		queryKey: BROWSERS,
		queryFn: ({ signal }) => answer(api.GET("/api/session/browsers", { signal })),
	});
	const end = useMutation({
		mutationFn: (id: string) => answer(api.DELETE("/api/session/browsers/{id}", { params: { path: { id } } })),
		...settled,
	});
	const endOthers = useMutation({ mutationFn: () => answer(api.DELETE("/api/session/browsers")), ...settled });
	const problem = error ?? end.error ?? endOthers.error;
	const at = (us: number) => `${dayAndYear(us, zone)} ${clock(us, zone).slice(0, 5)}`;
	return (
		<Modal opened onClose={onClose} size="lg" title="Active sessions">
			{problem && <p className={classes.problem}>{problem.message}</p>}
			<ul className={classes.browsers}>
				{data?.browsers.map((one) => (
					<li key={one.id} data-browser={one.this ? "this" : "other"}>
						<span>
							<b>{one.this ? "this browser" : (one.address ?? "unknown address")}</b>, last used {at(one.seen_us)}
							<span className={classes.agent}>
								{one.agent}; since {at(one.created_us)}
							</span>
						</span>
						{!one.this && (
							<Button size="compact-sm" variant="default" onClick={() => end.mutate(one.id)}>
								Log out
							</Button>
						)}
					</li>
				))}
			</ul>
			{data && data.browsers.length > 1 && (
				<Button variant="default" onClick={() => endOthers.mutate()}>
					Log out all other sessions
				</Button>
			)}
		</Modal>
	);
}

/** Who is logged in, in the top bar. */
export function PersonMenu() {
	const session = useSession();
	const queries = useQueryClient();
	const navigate = useNavigate();
	const [opened, setOpened] = useState<"password" | "browsers" | "factor" | null>(null);
	const logout = useMutation({
		mutationFn: () => answer(api.DELETE("/api/session")),
		onSuccess: (nobody) => {
			navigate("/");
			queries.setQueryData(SESSION, nobody);
		},
	});
	if (!session.person) return null;
	const close = () => setOpened(null);
	return (
		<>
			<Menu position="bottom-end" width={240}>
				<Menu.Target>
					<button type="button" className={app.setting} aria-label={`logged in as ${session.person.name}`}>
						<IconUser size={15} aria-hidden /> {session.person.name}
						{session.sight && <span title={`limited to ${session.sight}`}>(limited)</span>}
					</button>
				</Menu.Target>
				<Menu.Dropdown>
					<Menu.Label>
						{session.role}
						{session.sight && `, limited to ${session.sight}`}
					</Menu.Label>
					{session.may_not["GET /api/people"] === undefined && (
						<>
							<Menu.Item onClick={() => navigate("/people")}>People</Menu.Item>
							<Menu.Item onClick={() => navigate("/people/settings")}>Settings</Menu.Item>
						</>
					)}
					<Menu.Item onClick={() => setOpened("password")}>Change password</Menu.Item>
					<Menu.Item onClick={() => setOpened("factor")}>
						{session.factor ? "Turn off two-factor login" : "Turn on two-factor login"}
					</Menu.Item>
					<Menu.Item onClick={() => setOpened("browsers")}>Active sessions</Menu.Item>
					<Menu.Divider />
					<Menu.Item onClick={() => logout.mutate()}>Log out</Menu.Item>
				</Menu.Dropdown>
			</Menu>
			{opened === "password" && <ChangePassword onClose={close} />}
			{opened === "factor" && <TwoFactor onClose={close} />}
			{opened === "browsers" && <Browsers onClose={close} />}
		</>
	);
}
