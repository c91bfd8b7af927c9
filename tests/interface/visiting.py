"""From room to room on one screen, as a link would go: the page is loaded once, and each room is waited for by what it asks."""

from urllib.parse import urljoin, urlsplit

from playwright.sync_api import Page, Request

_LEAVE_FOR = """path => {
    history.pushState({}, '', path);
    dispatchEvent(new PopStateEvent('popstate', { state: {} }));
}"""
# Of a page that never rests, a live chart on a busy machine, it is not waited for without end.
_NOTHING_TO_DO = """new Promise((done) =>
    requestAnimationFrame(() => requestIdleCallback(() => done(true), { timeout: 60_000 })))"""
_STEP_MS = 20


class Visitor:
    """A screen that counts what it has asked the server and not been told yet."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self._waits_for: set[Request] = set()
        page.on("request", self._asked)
        page.on("requestfinished", self._told)
        page.on("requestfailed", self._told)

    def _asked(self, request: Request) -> None:
        if request.resource_type != "eventsource":  # which has no end
            self._waits_for.add(request)

    def _told(self, request: Request) -> None:
        self._waits_for.discard(request)

    def go(self, path: str) -> None:
        """To a room of the same shop, until all of it stands; the room it is in is loaded anew."""
        if urlsplit(self.page.url).path == urlsplit(path).path:
            self.page.goto(urljoin(self.page.url, path))
        else:
            self.page.evaluate(_LEAVE_FOR, path)
        self.settle()
        self.page.locator("h1").first.wait_for()

    def settle(self) -> None:
        """Until all is drawn and nothing is asked any more, by what was drawn of the last answer either."""
        while True:
            self.page.evaluate(_NOTHING_TO_DO)
            if not self._waits_for:
                return
            while self._waits_for:
                self.page.wait_for_timeout(_STEP_MS)
