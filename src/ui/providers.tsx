"use client";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Notices } from "@/ui/frame/notices";
import { theme } from "@/ui/theme";

/** Context of every page: the theme, and one cache of server data. */
export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(createClient);
  return (
    <QueryClientProvider client={client}>
      <ThemeProvider theme={theme}>
        <Notices>{children}</Notices>
      </ThemeProvider>
    </QueryClientProvider>
  );
}

/** The server is on this machine and sends word of every change: no retries, no reloads on focus, no waiting for a network. */
const createClient = () =>
  new QueryClient({
    defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, networkMode: "always" } },
  });
