import { ActionIcon, Menu, Select, Tooltip, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { IconClock, IconMoon, IconSun } from "@tabler/icons-react";
import { useQuery } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useEffect, useState } from "react";
import { Link, Route, Routes, useLocation, useNavigate } from "react-router";
import classes from "./App.module.css";
import { AlertRuleEditor } from "./alerts/AlertRuleEditor";
import { AlertRules } from "./alerts/AlertRules";
import { Alerts } from "./alerts/Alerts";
import { OpenAlerts } from "./alerts/OpenAlerts";
import { Quiets } from "./alerts/Quiets";
import { RouteEditor } from "./alerts/RouteEditor";
import { Routes as AlertRoutes } from "./alerts/Routes";
import { answer, api } from "./api/client";
import type { Schemas } from "./api/types";
import { Boards } from "./boards/Boards";
import { CaseBadge } from "./cases/CaseBadge";
import { CasePage } from "./cases/CasePage";
import { Cases } from "./cases/Cases";
import { CaseProvider } from "./cases/current";
import { CausePage } from "./cause/CausePage";
import { AvailabilityView } from "./fleet/AvailabilityView";
import { Fleet } from "./fleet/Fleet";
import { FleetMap } from "./fleet/FleetMap";
import { HandoverPage } from "./handover/HandoverPage";
import { Intake } from "./intake/Intake";
import { Keeping } from "./intake/Keeping";
import { Relays } from "./intake/Relays";
import { Unread } from "./intake/Unread";
import { Investigate } from "./investigate/Investigate";
import { Logbook } from "./logbook/Logbook";
import { Restarts } from "./logbook/Restarts";
import { RuleEditor } from "./logbook/RuleEditor";
import { RuleList } from "./logbook/RuleList";
import { Now } from "./now/Now";
import { AuditView } from "./people/AuditView";
import { Login } from "./people/Login";
import { People } from "./people/People";
import { PersonMenu } from "./people/PersonMenu";
import { SettingsView } from "./people/SettingsView";
import { Teams } from "./people/Teams";
import { Welcome } from "./people/Welcome";
import { NoiseEditor } from "./rules/NoiseEditor";
import { NoiseList } from "./rules/NoiseList";
import { ParserEditor } from "./rules/ParserEditor";
import { ParserList } from "./rules/ParserList";
import { type Route as ApiRoute, Screen, SessionProvider, useAsked, useSession, whyNot } from "./shared/session";
import { useZone, ZoneProvider } from "./shared/zone";
import { Unusual } from "./unusual/Unusual";
import { Uploads } from "./uploads/Uploads";
import { UploadsProvider } from "./uploads/useUploads";

/** Whether the pages were opened at their plain address, and nothing was shown yet. */
const { pathname, search, hash } = window.location;
let openedPlain = pathname === "/" && search === "" && hash === "";
const ZONES = ["UTC", ...Intl.supportedValuesOf("timeZone").filter((zone) => zone !== "UTC")];

/** What draws comes when it is needed. */
const Wall = lazy(() => import("./boards/Wall").then((found) => ({ default: found.Wall })));
const BoardPage = lazy(() => import("./boards/BoardPage").then((found) => ({ default: found.BoardPage })));

function ZoneMenu() {
	const { zone, choose } = useZone();
	return (
		<Menu position="bottom-end" width={280} closeOnItemClick={false}>
			<Menu.Target>
				<button type="button" className={classes.setting} aria-label={`time zone: ${zone}`}>
					<IconClock size={15} aria-hidden /> {zone}
				</button>
			</Menu.Target>
			<Menu.Dropdown p="sm">
				<Select
					label="Times are shown in"
					data={ZONES}
					value={zone}
					onChange={(next) => next && choose(next)}
					searchable
					comboboxProps={{ withinPortal: false }}
				/>
			</Menu.Dropdown>
		</Menu>
	);
}

function ThemeSwitch() {
	const { setColorScheme } = useMantineColorScheme();
	const night = useComputedColorScheme("light") === "dark";
	const label = night ? "Day theme" : "Night theme";
	return (
		<Tooltip label={label}>
			<ActionIcon
				variant="transparent"
				className={classes.setting}
				aria-label={label}
				onClick={() => setColorScheme(night ? "light" : "dark")}
			>
				{night ? <IconSun size={17} /> : <IconMoon size={17} />}
			</ActionIcon>
		</Tooltip>
	);
}

const SCREENS: { path: string; name: string; also?: string; route?: ApiRoute }[] = [
	{ path: "/now", name: "Now" },
	{ path: "/", name: "Investigate" },
	{ path: "/logbook", name: "Logbook", also: "/causes" },
	{ path: "/fleet", name: "Fleet" },
	{ path: "/alerts", name: "Alerts", route: "GET /api/alerts" },
	{ path: "/boards", name: "Boards", also: "/handover" },
	{ path: "/cases", name: "Cases" },
	{ path: "/intake", name: "Intake", route: "GET /api/feeds" },
];

function TopBar() {
	const { pathname, search } = useLocation();
	const session = useSession();
	// The scope stays on from screen to screen.
	const scope = new URLSearchParams(search).get("scope");
	return (
		<header className={classes.bar}>
			<Link to="/now" className={classes.mark} aria-label="Northdrift: start page">
				<svg viewBox="0 0 24 24" width="24" height="24" aria-hidden>
					<path
						d="M2 17c4 0 4-10 9-10s3 7 6 7 2-5 5-5"
						fill="none"
						stroke="#f3d58a"
						strokeWidth="2"
						strokeLinecap="round"
					/>
				</svg>
				Northdrift
			</Link>
			<nav aria-label="Screens">
				{SCREENS.filter(({ route }) => !route || whyNot(session, route) === null).map(({ path, name, also = path }) => (
					<Link
						key={path}
						to={scope ? `${path}?${new URLSearchParams({ scope })}` : path}
						className={classes.screen}
						aria-current={
							(path === "/" ? pathname === path : pathname.startsWith(path) || pathname.startsWith(also))
								? "page"
								: undefined
						}
					>
						{name}
						{path === "/alerts" && <OpenAlerts />}
					</Link>
				))}
			</nav>
			<div className={classes.settings}>
				<CaseBadge />
				<Uploads />
				<PersonMenu />
				<ZoneMenu />
				<ThemeSwitch />
			</div>
		</header>
	);
}

interface LandingProps {
	status: Schemas["Status"] | undefined;
	failed: boolean;
	children: ReactNode;
}

/** Who opens the pages without a question sees how things are now, once lines come in by themselves. */
function Landing({ status, failed, children }: LandingProps) {
	const [landed, setLanded] = useState(!openedPlain);
	const navigate = useNavigate();
	useEffect(() => {
		if (landed || !status) return;
		openedPlain = false;
		if (status.live) navigate("/now", { replace: true });
		else setLanded(true);
	}, [landed, status, navigate]);
	return landed || failed ? children : <main aria-busy />;
}

const screen = (route: ApiRoute, element: ReactNode) => <Screen to={route}>{element}</Screen>;

/** All screens, for who may see them. */
function Workbench() {
	const { pathname } = useLocation();
	const status = useQuery({
		queryKey: ["status"],
		queryFn: () => answer(api.GET("/api/status")),
		// The first lines may come in by themselves; and who does not answer may be there again.
		refetchInterval: ({ state }) => (state.error || state.data?.lines === 0 ? 1000 : false),
	});
	return (
		<ZoneProvider suggested={status.data?.zone ?? null}>
			<UploadsProvider>
				<CaseProvider>
					<div className={classes.app}>
						{pathname !== "/wall" && <TopBar />}
						<Routes>
							<Route path="/now" element={<Now />} />
							<Route path="/logbook" element={<Logbook />} />
							<Route path="/logbook/restarts" element={<Restarts />} />
							<Route path="/logbook/rules" element={screen("GET /api/logbook-rules", <RuleList />)} />
							<Route path="/logbook/rules/new" element={screen("GET /api/logbook-rules", <RuleEditor />)} />
							<Route path="/causes" element={<CausePage />} />
							<Route path="/fleet" element={<Fleet />} />
							<Route path="/fleet/map" element={<FleetMap />} />
							<Route path="/fleet/availability" element={<AvailabilityView />} />
							<Route path="/alerts" element={screen("GET /api/alerts", <Alerts />)} />
							<Route path="/alerts/unusual" element={screen("GET /api/unusual", <Unusual />)} />
							<Route path="/alerts/rules" element={screen("GET /api/alert-rules", <AlertRules />)} />
							<Route path="/alerts/rules/new" element={screen("POST /api/alert-rules/trial", <AlertRuleEditor />)} />
							<Route path="/alerts/rules/:id" element={screen("POST /api/alert-rules/trial", <AlertRuleEditor />)} />
							<Route path="/alerts/quiet" element={screen("GET /api/alert-quiets", <Quiets />)} />
							<Route path="/alerts/routes" element={screen("GET /api/alert-routes", <AlertRoutes />)} />
							<Route path="/alerts/routes/new" element={screen("POST /api/alert-routes/preview", <RouteEditor />)} />
							<Route path="/alerts/routes/:id" element={screen("POST /api/alert-routes/preview", <RouteEditor />)} />
							<Route path="/boards" element={<Boards />} />
							<Route path="/handover" element={screen("GET /api/handovers/summary", <HandoverPage />)} />
							<Route
								path="/boards/:id"
								element={
									<Suspense fallback={<main aria-busy />}>
										<BoardPage />
									</Suspense>
								}
							/>
							<Route
								path="/wall"
								element={
									<Suspense fallback={<main aria-busy />}>
										<Wall />
									</Suspense>
								}
							/>
							<Route path="/cases" element={<Cases />} />
							<Route path="/cases/:id" element={<CasePage />} />
							<Route path="/intake" element={screen("GET /api/feeds", <Intake />)} />
							<Route path="/intake/keeping" element={screen("GET /api/keeping", <Keeping />)} />
							<Route path="/intake/relays" element={screen("GET /api/relays", <Relays />)} />
							<Route path="/intake/unread" element={<Unread />} />
							<Route path="/intake/parsers" element={screen("GET /api/parsers", <ParserList />)} />
							<Route path="/intake/parsers/:id" element={screen("GET /api/parsers", <ParserEditor />)} />
							<Route path="/intake/noise" element={screen("GET /api/noise-rules", <NoiseList />)} />
							<Route path="/intake/noise/new" element={screen("GET /api/noise-rules", <NoiseEditor />)} />
							<Route path="/people" element={screen("GET /api/people", <People />)} />
							<Route path="/people/teams" element={screen("GET /api/teams", <Teams />)} />
							<Route path="/people/settings" element={screen("GET /api/settings", <SettingsView />)} />
							<Route path="/people/audit" element={screen("GET /api/audit", <AuditView />)} />
							<Route
								path="*"
								element={
									<Landing status={status.data} failed={status.isError}>
										<Investigate status={status.data} problem={status.error} />
									</Landing>
								}
							/>
						</Routes>
					</div>
				</CaseProvider>
			</UploadsProvider>
		</ZoneProvider>
	);
}

/** The screens, or what one logs in with. */
export function App() {
	const { pathname } = useLocation();
	const { data: session, error } = useAsked();
	if (!session) return error && <p role="alert">{error.message}</p>;
	if (session.alone || session.person) {
		return (
			<SessionProvider session={session}>
				<Workbench />
			</SessionProvider>
		);
	}
	return pathname === "/welcome" ? <Welcome /> : <Login provider={session.provider} />;
}
