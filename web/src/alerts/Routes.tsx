import { Button, Menu, SegmentedControl, Switch } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useRules } from "../rules/api";
import { authors } from "../shared/authors";
import { Gone } from "../shared/IntakeHead";
import { More } from "../shared/More";
import { Allowed, useBarred } from "../shared/session";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type Delivery, KINDS, place, ROUTES, type Route, useDeliveries, whenOf } from "./routes";

const OCCASIONS: Record<Delivery["occasion"], string> = {
	raised: "raised",
	left: "nobody took it",
	back: "back to normal",
	test: "test",
};
const STATES = [
	{ value: "", label: "all" },
	{ value: "waiting", label: "waiting" },
	{ value: "sent", label: "sent" },
	{ value: "given up", label: "given up" },
];

function Deliveries({ routes, list }: { routes: Route[]; list: Delivery[] }) {
	const { zone } = useZone();
	return (
		<table className={classes.table}>
			<thead>
				<tr>
					<th scope="col">when</th>
					<th scope="col">to</th>
					<th scope="col">what</th>
					<th scope="col">state</th>
				</tr>
			</thead>
			<tbody>
				{list.map((one) => {
					const route = routes.find(({ id }) => id === one.route_id);
					const us = one.sent_us ?? one.created_us;
					return (
						<tr key={one.id} data-delivery={one.state}>
							<td className={classes.time}>
								{day(us, zone)} {clock(us, zone)}
							</td>
							<td>
								{one.recipient || (route ? place(route) : "")}
								<span className={classes.second}>{route?.name ?? "a route that is removed"}</span>
							</td>
							<td>
								{one.alert_id ? (
									<Link to={`/alerts?show=all&alert=${one.alert_id}`}>{one.alert ?? "an alert that is gone"}</Link>
								) : (
									one.subject
								)}
								<span className={classes.second}>{OCCASIONS[one.occasion]}</span>
							</td>
							<td>
								<span className={classes.delivery} data-state={one.state}>
									{one.state}
								</span>
								{one.attempts > 0 && ` after ${number(one.attempts)} ${one.attempts === 1 ? "attempt" : "attempts"}`}
								{one.state !== "sent" && one.problem && <span className={classes.problem}>{one.problem}</span>}
							</td>
						</tr>
					);
				})}
			</tbody>
		</table>
	);
}

/** Who is told of alerts, and what was told. */
export function Routes() {
	const navigate = useNavigate();
	const { list, alter, drop, restore } = useRules(ROUTES);
	const [state, setState] = useState("");
	const deliveries = useDeliveries(state);
	const barred = useBarred("DELETE /api/alert-routes/{id}");
	const [gone, setGone] = useState<Route | null>(null);
	const routes = list.data?.routes ?? [];
	const problem =
		list.error ?? alter.error ?? drop.error ?? restore.error ?? deliveries.test.error ?? deliveries.list.error;
	const stuck = routes.some((route) => route.problem);
	return (
		<main className={classes.list}>
			<AlertsHead>
				<Allowed to="POST /api/alert-routes">
					<Button size="compact-md" onClick={() => navigate("/alerts/routes/new")}>
						New route
					</Button>
				</Allowed>
			</AlertsHead>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{gone && (
				<Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
					“{gone.name}” is removed; nobody is told by it any more.
				</Gone>
			)}
			{list.data && routes.length === 0 && (
				<p className={classes.hint}>
					Nobody is told of alerts yet; they stand on this screen alone. A route says who is told, how and when: by
					mail, web hook, syslog, SNMP trap or a program.
				</p>
			)}
			{routes.length > 0 && (
				<table className={classes.table}>
					<thead>
						<tr>
							<th scope="col">route</th>
							<th scope="col">tells of</th>
							<th scope="col">on</th>
							<th scope="col" className={classes.number}>
								sent
							</th>
							<th scope="col" className={classes.number}>
								waiting
							</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{routes.map((route) => (
							<tr key={route.id} data-route={route.name}>
								<td>
									<Link to={`/alerts/routes/${route.id}`}>{route.name}</Link>
									<span className={classes.second}>
										{KINDS[route.kind].title} · {place(route)}
										{authors(route)}
									</span>
									{route.problem && <span className={classes.problem}>{route.problem}</span>}
								</td>
								<td>{whenOf(route.definition)}</td>
								<td>
									<Allowed to="PATCH /api/alert-routes/{id}">
										<Switch
											aria-label={`${route.name} is on`}
											checked={route.enabled}
											onChange={(event) => alter.mutate({ id: route.id, enabled: event.currentTarget.checked })}
										/>
									</Allowed>
								</td>
								<td className={classes.number}>{number(route.sent)}</td>
								<td className={classes.number}>{route.waiting > 0 ? number(route.waiting) : ""}</td>
								<td className={classes.actionsCell}>
									<More of={route.name}>
										<Menu.Item onClick={() => navigate(`/alerts/routes/${route.id}`)}>Edit</Menu.Item>
										<Menu.Item {...barred} disabled={!route.enabled} onClick={() => deliveries.test.mutate(route.id)}>
											Send a test
										</Menu.Item>
										<Menu.Item {...barred} onClick={() => drop.mutate(route.id, { onSuccess: () => setGone(route) })}>
											Delete
										</Menu.Item>
									</More>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			{deliveries.list.data && (deliveries.list.data.deliveries.length > 0 || state !== "") && (
				<section aria-label="Messages" className={classes.told}>
					<div className={classes.row}>
						<h2>Messages</h2>
						<SegmentedControl
							aria-label="Which messages"
							size="xs"
							data={STATES}
							value={state}
							onChange={(value) => setState(value)}
						/>
						{stuck && (
							<Allowed to="POST /api/deliveries/retried">
								<Button size="compact-xs" variant="default" onClick={() => deliveries.retry.mutate()}>
									Try again now
								</Button>
							</Allowed>
						)}
					</div>
					{deliveries.list.data.deliveries.length > 0 ? (
						<Deliveries routes={routes} list={deliveries.list.data.deliveries} />
					) : (
						<p className={classes.hint}>None.</p>
					)}
					{deliveries.list.data.total > deliveries.list.data.deliveries.length && (
						<p className={classes.hint}>
							The latest {number(deliveries.list.data.deliveries.length)} of {number(deliveries.list.data.total)} are
							shown.
						</p>
					)}
				</section>
			)}
		</main>
	);
}
