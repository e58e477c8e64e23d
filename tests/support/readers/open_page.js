// Opens a page in a browser without a screen, plays every witness, and says what went wrong and what was asked of the network.
const { chromium } = require("playwright-core");

(async () => {
  const [page, browser, picture] = process.argv.slice(2);
  const arguments_ = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"];
  const opened = await chromium.launch({
    executablePath: browser,
    args: [...arguments_, "--disable-component-update", "--disable-sync"],
  });
  const tab = await opened.newPage({ viewport: { width: 1000, height: 900 } });
  const errors = [];
  const requests = [];
  tab.on("pageerror", (error) => errors.push(String(error)));
  tab.on("console", (line) => line.type() === "error" && errors.push(line.text()));
  tab.on("request", (one) => requests.push(one.url()));
  await tab.goto(`file://${page}`);
  await tab.waitForFunction(() => document.body.dataset.ready === "yes", { timeout: 60000 });
  const ends = [];
  for (const section of await tab.$$("section[data-witness]")) {
    const slider = await section.$("input");
    await section.$eval("button", (button) => button.click());
    await section.$eval("button", (button) => button.click());
    // to the end, tick by tick, as the slider does
    await slider.evaluate((one) => {
      one.value = one.max;
      one.dispatchEvent(new Event("input"));
    });
    ends.push(await section.$eval("output", (one) => one.textContent));
  }
  if (picture) await tab.screenshot({ path: picture });
  const differs = await tab.evaluate(() => document.body.dataset.differs || "");
  console.log(JSON.stringify({ errors, requests, ends, differs }));
  await opened.close();
})();
