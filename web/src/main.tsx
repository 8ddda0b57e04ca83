import "@mantine/core/styles.css";
import "@mantine/dates/styles.css";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "./styles.css";
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { Problem } from "./api/client";
import { nonce } from "./shared/nonce";
import { theme, variables } from "./theme";

const queries = new QueryClient({
	defaultOptions: {
		queries: {
			refetchOnWindowFocus: false,
			// What a person got wrong does not become right by asking again.
			retry: (count, error) =>
				count < 2 && !(error instanceof Problem && error.details.status >= 400 && error.details.status < 500),
		},
	},
});

const root = document.getElementById("root");
if (root) {
	createRoot(root).render(
		<StrictMode>
			<MantineProvider theme={theme} cssVariablesResolver={variables} defaultColorScheme="auto" getStyleNonce={nonce}>
				<QueryClientProvider client={queries}>
					<BrowserRouter>
						<App />
					</BrowserRouter>
				</QueryClientProvider>
			</MantineProvider>
		</StrictMode>,
	);
}
