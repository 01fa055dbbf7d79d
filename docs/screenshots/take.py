"""Takes the pictures of this folder from the demo data: `make screenshots`."""

import re
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

FOLDER = Path(__file__).parent
SHEET = FOLDER.parents[1] / "tests/reference/sheets/wide-summaries.xlsx"
PORT = 8765
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
WIDE, NARROW = {"width": 1280, "height": 800}, {"width": 820, "height": 1180}
SHAFTS, RINGS, BLADES, TIPS = 1, 2, 3, 4


def wait_for_demo() -> None:
    for _ in range(600):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/today", timeout=2).read()
        except OSError:
            time.sleep(0.2)
        else:
            return
    raise TimeoutError("the demo does not start")


def take(page: Page, name: str, path: str, settle_ms: int = 900) -> None:
    page.goto(f"http://127.0.0.1:{PORT}{path}")
    page.wait_for_timeout(settle_ms)
    page.screenshot(path=FOLDER / f"{name}.png")
    print(name)


def take_break(page: Page) -> None:
    """Load one piece of the trial in clamps, before its time, to show a pull and its break."""
    page.goto(f"http://127.0.0.1:{PORT}/")
    page.get_by_role("button", name=re.compile("^Take off clamps")).click()
    page.goto(f"http://127.0.0.1:{PORT}/trials/{BLADES}/break")
    page.get_by_role("button", name=re.compile("curing")).first.click(timeout=60_000)
    page.wait_for_timeout(1500)
    page.keyboard.press("Space")
    page.wait_for_timeout(1200)
    page.get_by_role("button", name="Put the piece in and pump").click()
    page.wait_for_timeout(6500)
    page.screenshot(path=FOLDER / "break-pull.png")
    page.get_by_role("button", name=re.compile("^Keep, next")).wait_for(timeout=40_000)
    page.keyboard.press("2")
    page.wait_for_timeout(500)
    page.screenshot(path=FOLDER / "break-judge.png")
    print("break-pull, break-judge")


def take_plates(page: Page) -> None:
    """Load one piece again on hung plates."""
    page.goto(f"http://127.0.0.1:{PORT}/trials/{TIPS}/break")
    page.get_by_role("region", name="The last breaks").get_by_role("button").first.click()
    page.get_by_role("button", name=re.compile("^Load it again")).click()
    page.get_by_role("button", name="It broke").wait_for()
    for _ in range(5):
        page.keyboard.press("Space")
        page.wait_for_timeout(400)
    page.mouse.wheel(0, -3000)
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / "break-plates.png")
    print("break-plates")


def take_making(page: Page) -> None:
    """Settle the planned trial and glue some of it, to show the saw and the run sheet on a tablet."""
    page.goto(f"http://127.0.0.1:{PORT}/trials/{RINGS}/plan")
    page.get_by_role("button", name="Settle the plan and label the pieces").click()
    page.get_by_role("button", name="tick the whole board").first.click()
    page.wait_for_timeout(900)
    page.screenshot(path=FOLDER / "saw.png")
    page.get_by_role("button", name="All are sawn and labelled").click()
    page.set_viewport_size(NARROW)
    page.goto(f"http://127.0.0.1:{PORT}/trials/{RINGS}/glue")
    page.get_by_role("button", name=re.compile("^Make a glue-up of")).click()
    for _ in range(7):
        page.wait_for_timeout(700)
        page.keyboard.press("Space")
    page.wait_for_timeout(2000)
    page.screenshot(path=FOLDER / "run-sheet.png")
    print("saw, run-sheet")


def take_timetable(page: Page) -> None:
    """Make the timetable of the trial in clamps, at any hour of the day, and choose a task in it."""
    page.goto(f"http://127.0.0.1:{PORT}/trials/{BLADES}/timetable")
    page.get_by_label(re.compile("^Evenings, nights")).check()
    page.get_by_role("button", name="Make the timetable").click()
    page.get_by_role("heading", name=re.compile("^Done")).wait_for(timeout=60_000)
    page.wait_for_timeout(700)
    page.get_by_role("button", name=re.compile("Glue with")).first.click()
    page.mouse.wheel(0, -3000)
    page.wait_for_timeout(700)
    page.screenshot(path=FOLDER / "timetable.png")
    print("timetable")


def take_leaving(browser: Browser, page: Page) -> None:
    """Bring in a sheet; and show the first page of a report, and the picture for the wall."""
    page.set_viewport_size(WIDE)
    page.goto(f"http://127.0.0.1:{PORT}/bring-in")
    page.get_by_label("A file to bring in").set_input_files(SHEET)
    page.get_by_role("button", name=re.compile("^Bring it in")).wait_for()
    page.wait_for_timeout(500)
    page.screenshot(path=FOLDER / "bring-in.png")
    paper = browser.new_page(viewport={"width": 794, "height": 1123})
    paper.emulate_media(media="print")
    for name, file in (("report", "report.html"), ("picture", "picture.svg")):
        answer = urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/trials/{SHAFTS}/{file}").read().decode()
        paper.set_content(answer if name == "report" else f'<body style="margin:0">{answer}</body>')
        if name == "report":
            paper.add_style_tag(content="main{padding:60px 53px !important}")
        else:
            paper.set_viewport_size({"width": 1600, "height": 1000})
        paper.screenshot(path=FOLDER / f"{name}.png")
    print("bring-in, report, picture")


def main() -> None:
    command = [sys.executable, "-m", "adhaero", "demo", "--port", str(PORT)]
    demo = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    try:
        wait_for_demo()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            page = browser.new_page(viewport=WIDE)
            take(page, "today", "/")
            take(page, "book", "/book", 2000)
            take(page, "plan", f"/trials/{RINGS}/plan")
            page.get_by_text("Saw: kerf, trim, planing").click()
            page.get_by_role("img", name=re.compile("^Cut map of Larch strip 1")).scroll_into_view_if_needed()
            page.mouse.wheel(0, 500)
            page.wait_for_timeout(600)
            page.screenshot(path=FOLDER / "cut-map.png")
            take(page, "glue", f"/trials/{BLADES}/glue")
            take_timetable(page)
            take(page, "cure", f"/trials/{SHAFTS}/cure")
            take(page, "compare", f"/trials/{SHAFTS}/compare", 3000)
            page.get_by_role("radio", name="larch").click()
            page.get_by_role("radio", name="Glue alone").click()
            page.wait_for_timeout(1500)
            page.screenshot(path=FOLDER / "compare-slice.png")
            take(page, "compare-findings", f"/trials/{SHAFTS}/compare", 1500)
            page.get_by_text("Everything else the breaks say").click()
            page.get_by_role("region", name="Could it be something else", exact=True).wait_for()
            page.get_by_role("region", name="Could it be something else", exact=True).scroll_into_view_if_needed()
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "compare-findings.png")
            page.get_by_role("button", name=re.compile("^Shop")).click()
            page.wait_for_timeout(500)
            page.get_by_text("Its card").first.click()
            page.wait_for_timeout(300)
            page.screenshot(path=FOLDER / "shop.png")
            take_plates(page)
            take_break(page)
            take_making(page)
            take_leaving(browser, page)
            browser.close()
    finally:
        demo.terminate()
        demo.wait(10)


if __name__ == "__main__":
    main()
