import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import "@fontsource-variable/atkinson-hyperlegible-mono/index.css";
import { AppRouterCacheProvider } from "@mui/material-nextjs/v16-appRouter";
import type { Metadata } from "next";
import { cookies, headers } from "next/headers";
import type { CSSProperties, ReactNode } from "react";
import { MarkSprite } from "@/ui/marks/mark";
import { Providers } from "@/ui/providers";
import { readTextSize, TEXT_SIZE_COOKIE } from "@/ui/state/text-size";
import { tokenStyles } from "@/ui/theme";
import "@/ui/global.css";

export const metadata: Metadata = { description: "Port code module by module, with evidence." };

export default async function Layout({ children }: { children: ReactNode }) {
  // Made by the server for each page; scripts and styles without it do not run.
  const nonce = (await headers()).get("x-nonce") ?? undefined;
  const kept = await cookies();
  const scheme = kept.get("side-twin-scheme")?.value;
  const size = readTextSize(kept.get(TEXT_SIZE_COOKIE)?.value);
  return (
    <html
      lang="en"
      data-scheme={scheme === "dark" || scheme === "light" ? scheme : undefined}
      style={{ "--zoom": size } as CSSProperties}
    >
      <head>
        <style nonce={nonce}>{tokenStyles()}</style>
      </head>
      <body>
        <MarkSprite />
        <AppRouterCacheProvider options={{ key: "st", ...(nonce ? { nonce } : {}) }}>
          <Providers>{children}</Providers>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
