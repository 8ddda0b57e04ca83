import { Button, Modal } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import { type PointerEvent, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { alertsOf } from "../alerts/MachineAlerts";
import { PutOnBoard } from "../cards/PutOnBoard";
import { equals, quote } from "../shared/question";
import { Allowed } from "../shared/session";
import { severityColor } from "../shared/severity";
import { number } from "../shared/time";
import { type Machine, useFleetChanges, useFleetMap, useProposals } from "./api";
import classes from "./Fleet.module.css";
import { FleetTabs } from "./FleetTabs";
import { BOX, layout, type Placed } from "./layout";
import { short, state } from "./state";

const LEAST_DRAG = 6;
/** On the lower edge of a box. */
const TAB = { width: 58, height: 16, above: 5 };
/** Severity of what is not known. */
const LEAST = 8;

interface Area {
	x0: number;
	y0: number;
	x1: number;
	y1: number;
}

function inside({ x, y }: Placed, area: Area): boolean {
	const [left, right] = [Math.min(area.x0, area.x1), Math.max(area.x0, area.x1)];
	const [top, bottom] = [Math.min(area.y0, area.y1), Math.max(area.y0, area.y1)];
	return x < right && x + BOX.width > left && y < bottom && y + BOX.height > top;
}

function Proposals({ onClose }: { onClose: () => void }) {
	const { data, error, isFetching } = useProposals(true);
	const { arrow } = useFleetChanges();
	return (
		<Modal opened onClose={onClose} size="lg" title="Who names whom in their lines">
			{error && <p className={classes.problem}>{error.message}</p>}
			{isFetching && !data && <p>Counting over all lines</p>}
			{data?.proposals.length === 0 && (
				<p>No machine names another clearly more often than that names it, beyond what is entered.</p>
			)}
			<ul className={classes.plain}>
				{data?.proposals.map((one) => (
					<li key={`${one.machine} ${one.on}`} data-proposal={`${one.machine} ${one.on}`}>
						<span>
							<b>{one.machine}</b> names <b>{one.on}</b> in {number(one.lines)} lines
							{one.back > 0 && `, and is named by it in ${number(one.back)}`}
						</span>
						<Allowed to="POST /api/fleet/dependencies">
							<Button
								variant="default"
								size="compact-sm"
								onClick={() => arrow.mutate({ machine: one.machine, on: one.on, kind: "needs" })}
							>
								it needs it
							</Button>
							<Button
								variant="default"
								size="compact-sm"
								onClick={() => arrow.mutate({ machine: one.on, on: one.machine, kind: "runs-on" })}
							>
								it is its host
							</Button>
						</Allowed>
					</li>
				))}
			</ul>
		</Modal>
	);
}

/** How many alerts of a machine stand open, on the edge of its box; a click goes there. */
function Tab({ machine, x, y }: { machine: Machine; x: number; y: number }) {
	const navigate = useNavigate();
	const words = `${number(machine.alerts.all)} ${machine.alerts.all === 1 ? "alert" : "alerts"}`;
	const open = () => navigate(alertsOf(equals("host.name", machine.machine)));
	return (
		// biome-ignore lint/a11y/useSemanticElements: SVG has no button
		<g
			data-box-alerts={machine.machine}
			className={classes.tab}
			transform={`translate(${x + BOX.width - TAB.width - 4} ${y + BOX.height - TAB.above})`}
			style={{ color: severityColor(machine.alerts.first[0]?.severity ?? LEAST) }}
			role="button"
			tabIndex={0}
			aria-label={`${words} of ${machine.machine}`}
			onClick={open}
			onKeyDown={(event) => event.key === "Enter" && open()}
		>
			<rect width={TAB.width} height={TAB.height} rx="3" />
			<text x={TAB.width / 2} y="12">
				{words}
			</text>
		</g>
	);
}

/** What cannot do without what: machines in tiers, by their worst open alert or problem. Click one, or drag over several, to see their lines. */
export function FleetMap() {
	const navigate = useNavigate();
	const { data, error } = useFleetMap();
	const { ref, width, height: room } = useElementSize();
	const [area, setArea] = useState<Area | null>(null);
	const [hovered, setHovered] = useState<string | null>(null);
	const [proposing, setProposing] = useState(false);
	const { placed, height } = useMemo(
		() => (data && width > 0 ? layout(data.machines, data.edges, width, room) : { placed: [], height: 0 }),
		[data, width, room],
	);
	const at = new Map(placed.map((one) => [one.machine.machine, one]));
	const point = (event: PointerEvent<SVGSVGElement>) => {
		const box = event.currentTarget.getBoundingClientRect();
		return { x: event.clientX - box.left, y: event.clientY - box.top };
	};
	const show = (names: string[]) => {
		if (names.length === 0) return;
		const chip =
			names.length === 1 ? `host.name = ${quote(names[0] ?? "")}` : `host.name in (${names.map(quote).join(", ")})`;
		navigate(`/?${new URLSearchParams({ chip })}`);
	};
	const finish = () => {
		if (area && Math.hypot(area.x1 - area.x0, area.y1 - area.y0) >= LEAST_DRAG)
			show(placed.filter((one) => inside(one, area)).map((one) => one.machine.machine));
		setArea(null);
	};
	return (
		<main className={classes.screen}>
			<FleetTabs>
				<Button variant="default" size="compact-md" onClick={() => setProposing(true)}>
					Propose arrows
				</Button>
				<PutOnBoard query="" drawing="map" title="Map" />
				<p className={classes.told}>
					What needs nothing stands lowest. Click a machine for its lines; drag over several.
					{data && data.others > 0 && ` ${number(data.others)} more machines are only in the list.`}
				</p>
			</FleetTabs>
			{error && <p className={classes.problem}>{error.message}</p>}
			<div ref={ref} className={classes.scroll}>
				<svg
					width={width}
					height={height}
					className={classes.map}
					data-map
					aria-label="map of the fleet"
					onPointerDown={(event) => {
						if (event.target instanceof Element && event.target.closest("[role=button]")) return;
						const { x, y } = point(event);
						event.currentTarget.setPointerCapture(event.pointerId);
						setArea({ x0: x, y0: y, x1: x, y1: y });
					}}
					onPointerMove={(event) => {
						if (!area) return;
						const { x, y } = point(event);
						setArea({ ...area, x1: x, y1: y });
					}}
					onPointerUp={finish}
				>
					{data?.edges.map((edge) => {
						const [from, to] = [at.get(edge.machine), at.get(edge.on)];
						if (!from || !to) return null;
						const near = hovered === edge.machine || hovered === edge.on;
						const [x0, y0] = [from.x + BOX.width / 2, from.y + BOX.height];
						const [x1, y1] = [to.x + BOX.width / 2, to.y];
						const bend = Math.max(20, Math.abs(y1 - y0) / 2);
						return (
							<path
								key={`${edge.machine} ${edge.on} ${edge.kind}`}
								d={`M${x0} ${y0} C${x0} ${y0 + bend} ${x1} ${y1 - bend} ${x1} ${y1}`}
								className={classes.edge}
								data-kind={edge.kind}
								data-near={near || undefined}
							/>
						);
					})}
					{placed.map((one) => {
						const { machine, x, y } = one;
						const { sign, words, colour } = state(machine);
						const chosen = area !== null && inside(one, area);
						return (
							// biome-ignore lint/a11y/useSemanticElements: SVG has no button
							<g
								key={machine.machine}
								data-box={machine.machine}
								data-state={words}
								data-chosen={chosen || undefined}
								className={classes.box}
								transform={`translate(${x} ${y})`}
								role="button"
								tabIndex={0}
								onClick={() => show([machine.machine])}
								onKeyDown={(event) => event.key === "Enter" && show([machine.machine])}
								onPointerEnter={() => setHovered(machine.machine)}
								onPointerLeave={() => setHovered(null)}
							>
								<title>
									{[
										machine.machine,
										machine.role,
										machine.site,
										words,
										...machine.alerts.first.map((alert) => `alert: ${alert.name}`),
										machine.problems[0]?.says,
									]
										.filter(Boolean)
										.join("\n")}
								</title>
								<rect width={BOX.width} height={BOX.height} rx="3" />
								<rect width="5" height={BOX.height} fill={colour} className={classes.state} />
								<text x="12" y="17" className={classes.name}>
									{short(machine.machine, 13)}
								</text>
								<text x="12" y="32" className={classes.role}>
									{short(machine.role ?? "", 14)}
								</text>
								<text x={BOX.width - 8} y="25" className={classes.sign} fill={colour}>
									{sign}
								</text>
							</g>
						);
					})}
					{placed
						.filter(({ machine }) => machine.alerts.all > 0)
						.map(({ machine, x, y }) => (
							<Tab key={machine.machine} machine={machine} x={x} y={y} />
						))}
					{area && (
						<rect
							x={Math.min(area.x0, area.x1)}
							y={Math.min(area.y0, area.y1)}
							width={Math.abs(area.x1 - area.x0)}
							height={Math.abs(area.y1 - area.y0)}
							className={classes.area}
						/>
					)}
				</svg>
				{data && data.edges.length === 0 && (
					<p className={classes.empty}>
						No arrow is entered yet. “Propose arrows” counts who names whom; “change” on a machine says what it needs; a
						table can be taken in.
					</p>
				)}
			</div>
			<p className={classes.legend}>
				<b style={{ color: "var(--severity-critical-text)" }}>!!!</b> critical{" "}
				<b style={{ color: "var(--severity-error-text)" }}>!!</b> error{" "}
				<b style={{ color: "var(--severity-notice)" }}>✓</b> nothing open <b>–</b> silent, unlike itself <b>?</b> no
				line ever · solid: needs, dashed: runs on
			</p>
			{proposing && <Proposals onClose={() => setProposing(false)} />}
		</main>
	);
}
