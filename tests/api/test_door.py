"""The shop's network: what was not let in gets nothing, and who is let in does what is theirs to do."""

import http.client
import json
import ssl
import unittest
from http.cookies import SimpleCookie
from typing import Any
from urllib.parse import urlencode

from orthotome.api.app import create_app
from orthotome.api.door.certificate import certificate, fingerprint
from orthotome.api.door.pairing import LIVES_S, MOST_TRIES, Pairing
from orthotome.api.door.rights import needs
from tests.enough import cases
from tests.shop import CUT, HALF_WAY, ShopOf
from tools.browser import Server

SERVED_AT, CART, STRANGER = "127.0.0.2", "127.0.0.3", "127.0.0.4"
GUESSES = len(cases(60, 1000))


class Answer:
    """What came back."""

    def __init__(self, given: http.client.HTTPResponse) -> None:
        self.status, self.headers = given.status, given.headers
        self.text = given.read().decode("utf-8", "replace")

    def json(self) -> Any:
        return json.loads(self.text)


class Device:
    """A device of the network at an address of its own, with whatever cookie it was given."""

    def __init__(self, port: int, address: str, trusted: str) -> None:
        self._connection = http.client.HTTPSConnection(
            SERVED_AT,
            port,
            source_address=(address, 0),
            context=ssl.create_default_context(cafile=trusted),
        )
        self.cookie = ""

    def ask(self, method: str, path: str, body: Any = None, **headers: str) -> Answer:
        sent = dict(headers)
        if self.cookie:
            sent["cookie"] = self.cookie
        if isinstance(body, str):
            sent["content-type"] = "application/x-www-form-urlencoded"
        elif body is not None:
            sent["content-type"], body = "application/json", json.dumps(body)
        self._connection.request(method, path, body, sent)
        return Answer(self._connection.getresponse())

    def pair(self, code: str, name: str = "cart tablet") -> Answer:
        answer = self.ask("POST", "/pair", urlencode({"code": code, "name": name}))
        if given := answer.headers.get("set-cookie"):
            self.cookie = given.partition(";")[0]
        return answer

    def close(self) -> None:
        self._connection.close()


class OnTheNetwork(unittest.TestCase):
    server: Server

    @classmethod
    def setUpClass(cls) -> None:
        cls.server = Server("--demo", "--lan", "--lan-host", SERVED_AT, "--lan-port", "0")
        cls.addClassCleanup(cls.server.close)
        cls.lan_port = int(cls.here("GET", "/api/network").json()["addresses"][0].rpartition(":")[2])
        cls.ids = {
            name: cls.here("POST", "/api/people", {"name": name, "role": role, "pin": pin}).json()["id"]
            for name, role, pin in (("Ash", "operator", "4711"), ("Rowan", "lead_hand", "081508"))
        }

    @classmethod
    def here(cls, method: str, path: str, body: Any = None) -> Answer:
        """A request of the serving machine's own browser."""
        sent = None if body is None else json.dumps(body)
        local = http.client.HTTPConnection("127.0.0.1", int(cls.server.port))
        try:
            local.request(method, path, sent, {"content-type": "application/json"} if sent else {})
            return Answer(local.getresponse())
        finally:
            local.close()

    def device(self, address: str) -> Device:
        trusted = str(self.server.path / "network-certificate.pem")
        device = Device(self.lan_port, address, trusted)
        self.addCleanup(device.close)
        return device

    def paired(self, person: str = "", pin: str = "") -> Device:
        device = self.device(CART)
        device.pair(self.here("POST", "/api/pairing").json()["code"])
        if person:
            body = {"person_id": self.ids[person], "pin": pin}
            self.assertEqual(device.ask("POST", "/api/door/sign-on", body).status, 200)
        return device

    def test_what_was_not_let_in_gets_nothing_from_any_operation(self) -> None:
        stranger = self.device(STRANGER)
        document = self.here("GET", "/api/openapi.json").json()
        asked = [
            ("GET", "/api/openapi.json"),
            ("GET", "/api/none"),
            ("GET", "/mark.svg"),
            ("GET", "/bench"),
        ]
        for path, methods in document["paths"].items():
            plain = path
            for part in path.split("/"):
                if part.startswith("{"):
                    plain = plain.replace(part, "1")
            asked += [(method.upper(), plain) for method in methods]
        self.assertGreater(len(asked), 80)
        for method, path in asked:
            answer = stranger.ask(method, path)
            if path.startswith("/api/"):
                self.assertEqual(
                    (answer.status, answer.json()["errors"][0]["field"]), (401, "device"), path
                )
            else:
                self.assertEqual((answer.status, answer.headers["location"]), (303, "/pair"), path)
            self.assertNotIn("Saltmarsh", answer.text)
        page = stranger.ask("GET", "/pair")
        self.assertIn("Let this device in", page.text)
        self.assertNotIn("Saltmarsh", page.text)
        stranger.cookie = "__Host-orthotome-device=made-up"
        self.assertEqual(stranger.ask("GET", "/api/shop").status, 401)

    def test_a_code_lets_one_device_in_once_under_a_cookie_that_stays_there(self) -> None:
        code = self.here("POST", "/api/pairing").json()["code"]
        cart, stranger = self.device(CART), self.device(STRANGER)
        self.assertEqual(cart.pair(code, name=" ").status, 403)
        let_in = cart.pair(code.lower())
        self.assertEqual((let_in.status, let_in.headers["location"]), (303, "/"))
        (cookie,) = SimpleCookie(let_in.headers["set-cookie"]).values()
        self.assertTrue(cookie["httponly"] and cookie["secure"])
        self.assertEqual(
            (cookie["samesite"].lower(), cookie["path"], cookie["domain"]), ("strict", "/", "")
        )
        self.assertEqual(cart.ask("GET", "/api/shop").json()["name"], "Saltmarsh Forge (example shop)")
        self.assertEqual(stranger.pair(code).status, 403)
        self.assertEqual(stranger.ask("GET", "/api/shop").status, 401)

    def test_any_number_of_guesses_do_not_get_in_nor_does_the_code_after_them(self) -> None:
        code = self.here("POST", "/api/pairing").json()["code"]
        stranger = self.device(STRANGER)
        for n in range(GUESSES):
            answer = stranger.pair(f"{n:08d}".replace("0", "Z").replace("1", "Y"))
            self.assertEqual((answer.status, stranger.cookie), (403, ""))
        self.assertEqual(stranger.pair(code).status, 403)
        self.assertEqual(self.here("GET", "/api/pairing").json()["code"], "")

    def test_a_device_that_is_put_out_is_out_at_its_next_request(self) -> None:
        cart = self.paired("Ash", "4711")
        self.assertEqual(cart.ask("GET", "/api/trials").status, 200)
        for device in self.here("GET", "/api/devices").json():
            if device["person"] == "Ash":
                self.assertEqual(self.here("DELETE", f"/api/devices/{device['id']}").status, 204)
        self.assertEqual(cart.ask("GET", "/api/trials").status, 401)
        self.assertEqual(cart.ask("GET", "/bench").headers["location"], "/pair")

    def test_whoever_signed_on_is_who_did_it_and_nobody_else_can_say_so(self) -> None:
        cart = self.paired()
        path = f"/api/trials/{HALF_WAY}/cuts"
        unsigned = cart.ask("POST", path, {**CUT, "key": "unsigned"})
        self.assertEqual((unsigned.status, unsigned.json()["errors"][0]["field"]), (401, "sign_on"))
        wrong = {"person_id": self.ids["Ash"], "pin": "0000"}
        self.assertEqual(cart.ask("POST", "/api/door/sign-on", wrong).status, 409)
        right = {"person_id": self.ids["Ash"], "pin": "4711"}
        self.assertEqual(cart.ask("POST", "/api/door/sign-on", right).status, 200)
        logged = cart.ask("POST", path, {**CUT, "key": "signed"}, **{"orthotome-person": "Rowan"})
        self.assertEqual((logged.status, logged.json()["logged_by"]), (201, "Ash"))

    def test_an_operator_cannot_do_a_lead_hands_acts_and_a_lead_hand_not_the_machines(self) -> None:
        ash, rowan = self.paired("Ash", "4711"), self.paired("Rowan", "081508")
        row = self.here("GET", "/api/book/rows").json()[0]["id"]
        for method, path, body in (
            ("PUT", f"/api/book/rows/{row}/struck?out=false", None),
            ("GET", "/api/backups", None),
            ("GET", "/api/devices", None),
            ("PATCH", f"/api/people/{self.ids['Ash']}", {"role": "operator"}),
        ):
            refused = ash.ask(method, path, body)
            self.assertEqual((refused.status, refused.json()["errors"][0]["field"]), (403, "role"), path)
            self.assertIn(rowan.ask(method, path, body).status, (200, 409), path)
        self.assertEqual(rowan.ask("POST", "/api/pairing").status, 403)

    def test_foreign_hosts_and_pages_are_refused_before_the_door(self) -> None:
        cart = self.paired()
        for headers in (
            {"host": "shop.example"},
            {"host": f"x@{SERVED_AT}"},
            {"origin": "https://evil.example"},
        ):
            self.assertEqual(cart.ask("GET", "/api/shop", **headers).status, 403, headers)


class Parts(unittest.TestCase):
    def test_a_code_dies_of_age_of_tries_and_of_being_taken_away(self) -> None:
        at = [0.0]
        pairing = Pairing(lambda: at[0])
        self.assertFalse(pairing.accept(""))
        code = pairing.begin().code
        at[0] = LIVES_S
        self.assertEqual((pairing.shown(), pairing.accept(code)), (None, False))
        code = pairing.begin().code
        tries = [pairing.accept("WRONG") for _ in range(MOST_TRIES)]
        self.assertEqual((any(tries), pairing.accept(code)), (False, False))
        code = pairing.begin().code
        pairing.end()
        self.assertFalse(pairing.accept(code))
        self.assertTrue(pairing.accept(pairing.begin().code))

    def test_five_wrong_pins_and_none_is_looked_at_and_somebody_stays_lead_hand(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        ask = shop.client.post
        new = {"name": "Rowan", "role": "lead_hand", "pin": "4711"}
        rowan = ask("/api/people", json=new).json()["id"]
        self.assertEqual(ask("/api/people", json=new).status_code, 409)
        self.assertEqual(ask("/api/people", json={**new, "name": "B", "pin": "12a4"}).status_code, 422)
        self.assertNotIn(
            "4711", (shop.database.path.with_name("shop.sqlite-wal")).read_bytes().decode("latin-1")
        )
        demoted = shop.client.patch(f"/api/people/{rowan}", json={"role": "operator"})
        self.assertIn("must stay lead hand", demoted.json()["detail"])
        self.assertEqual(shop.client.delete(f"/api/people/{rowan}").status_code, 409)
        from orthotome.store.errors import TooManyTries  # noqa: PLC0415
        from orthotome.store.people import people  # noqa: PLC0415

        for _ in range(5):
            with shop.database.write() as session:
                self.assertFalse(people.check_pin(session, rowan, "0000"))
        with self.assertRaises(TooManyTries), shop.database.write() as session:
            people.check_pin(session, rowan, "4711")
        shop.client.patch(f"/api/people/{rowan}", json={"pin": "4712"})
        with shop.database.write() as session:
            self.assertTrue(people.check_pin(session, rowan, "4712"))

    def test_every_change_needs_a_name_and_what_the_shop_lives_by_a_lead_hand(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        found: dict[str, set[str]] = {}
        for path, methods in create_app(shop.database).openapi()["paths"].items():
            for method in methods:
                wanted = needs(
                    method.upper(), path.replace("{", "").replace("}", "").replace("_id", "1")
                )
                found.setdefault(wanted, set()).add(f"{method.upper()} {path}")
        self.assertEqual(found.keys(), {"device", "person", "lead_hand", "this_machine"})
        changing = {o for o in found["device"] if not o.startswith("GET")}
        self.assertEqual(
            {o.rpartition("/api/")[2] for o in changing},
            {"door/sign-on", "door/sign-off", "quantities/read", "air", "cylinders", "profiles/preview",
             "book/import/preview", "traces/headings", "height/loop"},
        )  # fmt: skip
        for operation in (
            "POST /api/recipes",
            "POST /api/backups/{name}/restored",
            "POST /api/book/import",
            "PUT /api/tables/{table_id}/line",
        ):
            self.assertIn(operation, found["lead_hand"])
        # Nothing real hangs on a practice table; who practises is known all the same.
        self.assertEqual(needs("POST", "/on-practice/api/book/import"), "person")
        self.assertEqual(needs("GET", "/on-practice/api/trials"), "device")
        self.assertEqual(needs("POST", "/on-practice-not/api/book/import"), "person")

    def test_a_certificate_holds_for_its_names_and_is_made_anew_for_others(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        folder = shop.database.path.parent
        first, key = certificate(folder, frozenset({"192.0.2.7", "cart.local"}))
        seen = fingerprint(first)
        self.assertEqual(key.stat().st_mode & 0o077, 0)
        self.assertEqual(fingerprint(certificate(folder, frozenset({"192.0.2.7"}))[0]), seen)
        self.assertNotEqual(fingerprint(certificate(folder, frozenset({"192.0.2.8"}))[0]), seen)


if __name__ == "__main__":
    unittest.main()
