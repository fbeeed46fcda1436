/** From the empty folder to a student's verdict, in the browser alone: people, exercises of several kinds, due times, a hand-in. */
import { expect, type Page, test } from "@playwright/test";
import { expectNoFaults, seriousFaults, watchFaults } from "./helpers";

watchFaults();

const FAMILIES = ["Cratewood", "Segmentine", "Grapevale", "Ábelrind", "Pithers"];

/** A list of 300 students as a spreadsheet exports it. */
function roster(): Buffer {
  const lines = Array.from({ length: 300 }, (_, k) => {
    const family = `${FAMILIES[k % FAMILIES.length]}-${k}`;
    return `${family};Given${k};student${k};${k % 2 === 0 ? "Morning" : "Evening"};${4000 + k}`;
  });
  return Buffer.from(
    `\ufeffNachname;Vorname;Benutzername;Gruppe;Matrikelnummer\r\n${lines.join("\r\n")}\r\n`,
  );
}

async function setUp(page: Page) {
  await page.goto("/");
  await page.getByLabel("Your name").fill("Ines Quillaby");
  await page.getByLabel("Family name").fill("Quillaby");
  await page.getByLabel("Sign-in name").fill("ines");
  await page.getByLabel("Password").fill("lemon-peel-1");
  await page.getByLabel("Title of the first course").fill("Packhouse Controls");
  await page.getByRole("button", { name: "Set up" }).click();
  await expect(page.getByText("No exercises yet")).toBeVisible();
}

async function people(page: Page) {
  await page.getByRole("link", { name: "People" }).click();
  await page.getByRole("button", { name: "Roster" }).click();
  await page.getByLabel("File").setInputFiles({ name: "list.csv", mimeType: "text/csv", buffer: roster() });
  await expect(page.getByText("300 new", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Bring the course in line" }).click();
  await expect(page.getByText("Done: 300 new.")).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Close" }).first().click();
  await expect(page.getByText("301", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Add a person" }).click();
  const sheet = page.getByRole("dialog");
  await sheet.getByLabel("Name, given name first").fill("Rowan Pithers");
  await sheet.getByLabel("Sign-in name").fill("rowan");
  await sheet.getByRole("radio", { name: "Assistant" }).click();
  await sheet.getByLabel("Evening").check();
  expect(await seriousFaults(page)).toEqual([]);
  await sheet.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByRole("button", { name: "Rowan Pithers" })).toBeVisible();
}

async function begin(page: Page, title: string, statement: string) {
  await page.getByRole("button", { name: "New exercise" }).click();
  await page.getByLabel("Title").fill(title);
  await page.getByLabel("Statement in Markdown").fill(statement);
}

async function publish(page: Page) {
  await expect(page.getByText("Workings · saved")).toBeVisible();
  await page.getByRole("button", { name: "Publish…" }).click();
  await expect(page.getByText("Students see the exercise for the first time.")).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("Published: students see the exercise as it is here.")).toBeVisible();
}

async function combinational(page: Page) {
  await begin(page, "Hopper lamp", "Light the lamp when the hopper is **full** and not cleared.");
  await page.getByLabel("Name of port 1").fill("full");
  await page.getByLabel("Name of port 2").fill("clear");
  await page.getByLabel("Name of port 3").fill("lamp");
  await page.getByLabel("lamp =").fill("full & ~clear");
  await page.getByLabel("Not allowed").selectOption("latch");
  await page.getByRole("textbox", { name: "Behaviour" }).fill("6");
  await page.getByLabel("Board").selectOption("pith-8");
  await page.getByRole("button", { name: "Wire in order" }).click();
  await expect(page.getByText("Students read: No latch. Marks: 6 behaviour.")).toBeVisible();
  await publish(page);
  await page.getByRole("link", { name: "Hopper lamp" }).click();
  await page.getByRole("button", { name: "Times…" }).click();
  await page.getByLabel("Due", { exact: true }).fill("2099-12-12T18:00");
  await page.getByRole("spinbutton", { name: "Attempts" }).fill("3");
  await page.getByRole("dialog").getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/Due .*2099.*3 attempts/)).toBeVisible();
}

async function machine(page: Page) {
  await begin(page, "Belt state", "The lamp follows `go` one clock later.");
  await page.getByLabel("Name of port 1").fill("clk");
  await page.getByLabel("Name of port 2").fill("go");
  await page.getByLabel("Name of port 3").fill("lamp");
  await page.getByRole("radio", { name: "States" }).click();
  await page.getByLabel("Clock", { exact: true }).selectOption("clk");
  for (let k = 0; k < 2; k++) await page.getByRole("button", { name: "+ State" }).click();
  await page.getByLabel("Outputs of s1").fill("lamp=1");
  for (const [from, when, to] of [
    ["s0", "go", "s1"],
    ["s1", "~go", "s0"],
  ] as const) {
    const row = page.getByRole("row").filter({ has: page.getByLabel(`Take out state ${from}`) });
    await row.getByRole("button", { name: "+ Way" }).click();
    await page.getByLabel(`Condition 1 of ${from}`).fill(when);
    await page.getByLabel(`Next state 1 of ${from}`).fill(to);
  }
  await publish(page);
}

async function beacon(page: Page) {
  await begin(page, "Beacon", "Four times a second.");
  await page.getByLabel("Name of port 1").fill("clk");
  await page.getByRole("button", { name: "Remove b", exact: true }).click();
  await page.getByLabel("Name of port 2").fill("lamp");
  await page.getByRole("radio", { name: "Rate" }).click();
  await page.getByLabel("Clock", { exact: true }).selectOption("clk");
  await page.getByLabel("Frequency in Hz").fill("12000000");
  await page.getByLabel("Output", { exact: true }).selectOption("lamp");
  await page.getByLabel("Hz", { exact: true }).fill("4");
  await expect(page.getByText("A counter from 0 to 1,499,999 turns it over.")).toBeVisible();
  await publish(page);
}

async function reference(page: Page) {
  await begin(page, "Crate parity", "Do what the sorter's parity gate does.");
  await page.getByLabel("Name of port 1").fill("left");
  await page.getByLabel("Name of port 2").fill("right");
  await page.getByLabel("Name of port 3").fill("odd");
  await page.getByRole("radio", { name: "Reference" }).click();
  const text = "module key(input left, right, output odd);\n  assign odd = left ^ right;\nendmodule\n";
  const file = { name: "key.v", mimeType: "text/plain", buffer: Buffer.from(text) };
  await page.getByLabel(/^Attach files/).setInputFiles(file);
  await expect(page.getByText("Expected is what key.v does.")).toBeVisible();
  await page.getByRole("button", { name: "+ Empty file" }).click();
  await page.getByLabel("What design.v is for").selectOption("starter");
  await page
    .getByLabel("Text of design.v")
    .fill("// Begin here.\nmodule parity(input left, right, output odd);\nendmodule\n");
  expect(await seriousFaults(page)).toEqual([]);
  await expect(page.getByText("Workings · saved")).toBeVisible();
  await page.getByRole("button", { name: "Publish…" }).click();
  await expect(page.getByText("Your reference passes the exercise's own check.")).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("Published: students see the exercise as it is here.")).toBeVisible();
}

test("an empty folder becomes a course, and a student of it hands in", async ({ page, browser }) => {
  test.setTimeout(180_000);
  await setUp(page);
  await people(page);
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await combinational(page);
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await machine(page);
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await beacon(page);
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await reference(page);
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await page.getByRole("link", { name: "People" }).click();
  await page.getByLabel("Find a person").fill("student7");
  await page
    .getByRole("row", { name: /student7 / })
    .getByRole("checkbox")
    .check();
  await page.getByRole("button", { name: "Password links (1)" }).click();
  const link = await page.getByText(/\/password\/[0-9a-f]{64}$/).innerText();
  const student = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await student.goto(link);
  await student.getByLabel("New password").fill("grapefruit-7");
  await student.getByRole("button", { name: "Set the password and sign in" }).click();
  await expect(student.getByRole("list", { name: "Your exercises" }).getByRole("listitem")).toHaveCount(4);
  // What is due stands first.
  await expect(student.getByRole("list", { name: "Your exercises" }).getByRole("link").first()).toHaveText(
    "Hopper lamp",
  );
  expect(await seriousFaults(student)).toEqual([]);
  await student.getByRole("link", { name: "Hopper lamp" }).click();
  await expect(student.getByText("3 attempts left")).toBeVisible();
  await expect(student.getByText("Light the lamp when the hopper is full and not cleared.")).toBeVisible();
  await student.getByRole("button", { name: "Hand in" }).click();
  const dialog = student.getByRole("dialog");
  await dialog
    .getByLabel("Or paste one")
    .fill("module l(input full, clear, output lamp); assign lamp = full & ~clear; endmodule");
  await dialog.getByRole("button", { name: "Add the pasted text" }).click();
  await dialog.getByRole("button", { name: "Hand in", exact: true }).click();
  await expect(student.getByRole("heading", { level: 1 })).toHaveText("All 4 rows are right.");
  await page.keyboard.press("Escape");
  await page.getByRole("link", { name: "Pass sheet" }).click();
  await page.getByLabel("Find a student").fill("Given7 ");
  await expect(page.getByRole("link", { name: /Hopper lamp: passed/ })).toBeVisible();
  await page.getByRole("link", { name: "Audit trail" }).click();
  await expect(page.getByRole("cell", { name: "exercise published" }).first()).toBeVisible();
  expectNoFaults();
});
