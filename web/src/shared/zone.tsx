import { createContext, type ReactNode, useContext, useState } from "react";

const KEY = "northdrift.zone";

interface Zone {
	zone: string;
	choose: (zone: string) => void;
}

const Context = createContext<Zone>({ zone: "UTC", choose: () => {} });

/** The zone in which times are shown: the person's choice, else the one that the data suggests, else the browser's. */
export function ZoneProvider({ suggested, children }: { suggested: string | null; children: ReactNode }) {
	const [chosen, setChosen] = useState(() => localStorage.getItem(KEY));
	const zone = chosen ?? suggested ?? Intl.DateTimeFormat().resolvedOptions().timeZone ?? "UTC";
	const choose = (next: string) => {
		localStorage.setItem(KEY, next);
		setChosen(next);
	};
	return <Context value={{ zone, choose }}>{children}</Context>;
}

export function useZone(): Zone {
	return useContext(Context);
}
