import { startBrowser, startServer } from "@/testing/browser";

const server = await startServer({ data: "/tmp/look-data", browse: "/tmp/cport" });
const { newPage, stop } = await startBrowser();
try {
  const page = await newPage();
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(server.url);
  const made = await page.evaluate(async () => {
    const r = await fetch("/api/ports", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ folder: "/tmp/cport" }),
    });
    return [r.status, await r.text()];
  });
  console.log(made[0], String(made[1]).slice(0, 300));
  const id =
    JSON.parse(String(made[1])).id ??
    (await page.evaluate(
      async () => (await (await fetch("/api/ports")).json()).find((p: { name: string }) => p.name === "Tide gauge")?.id,
    ));
  await page.goto(`${server.url}/port/${id}/order`);
  await new Promise((r) => setTimeout(r, 1500));
  await page.keyboard.press("c");
  await new Promise((r) => setTimeout(r, 15000));
  await page.screenshot({ path: "/tmp/look-order.png" });
  await page.goto(`${server.url}/port/${id}/bench?module=gauge`);
  await new Promise((r) => setTimeout(r, 2500));
  await page.screenshot({ path: "/tmp/look-bench.png" });
  await page.keyboard.press("n");
  await new Promise((r) => setTimeout(r, 1500));
  await page.screenshot({ path: "/tmp/look-reader.png" });
} finally {
  await stop();
  await server.stop();
}
process.exit(0);
