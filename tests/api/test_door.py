"""The shop's network: what was not let in gets nothing, and who is let in does what is theirs to do."""

import http.client
import json
import re
import ssl
import unittest
from http.cookies import SimpleCookie
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

from cryptography import x509
from cryptography.hazmat.primitives import serialization

from orthotome.api.app import create_app
from orthotome.api.door.certificate import certificate, fingerprint
from orthotome.api.door.pairing import LIVES_S, MOST_TRIES, Pairing
from orthotome.api.door.rights import needs
from orthotome.store.errors import TooManyTries
from orthotome.store.people import devices, pins
from tests.enough import cases
from tests.shop import CUT, HALF_WAY, ShopOf
from tools.browser import Server

SERVED_AT, CART, STRANGER = "127.0.0.2", "127.0.0.3", "127.0.0.4"
GUESSES = len(cases(60, 1000))
RIGHTS = Path(__file__).with_name("rights.txt")
"""Who may do what from the network: a line for each operation, read and agreed to by hand."""
_LEFT_OUT = {("POST", "/api/door/sign-off"), ("POST", "/api/backups")}
"""Allowed, and would change who walks or take long."""


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
        self._connection.close()  # the server ends one that rests for five seconds: on a busy machine that is between two asks
        self._connection.request(method, path, body, sent)
        return Answer(self._connection.getresponse())

    def pair(self, code: str, name: str = "cart tablet") -> Answer:
        answer = self.ask("POST", "/pair", urlencode({"code": code, "name": name}))
        if given := answer.headers.get("set-cookie"):
            self.cookie = given.partition(";")[0]
        return answer

    def begin(self, path: str) -> http.client.HTTPResponse:
        """An answer that goes on and on."""
        self._connection.request("GET", path, headers={"cookie": self.cookie})
        return self._connection.getresponse()

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
        trusted = str(self.server.path / "network-authority.pem")
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

    def test_a_live_stream_ends_when_its_device_is_put_out_or_its_person_changes(self) -> None:
        for ends in ("put out", "signed off"):
            cart, stream = self.paired("Ash", "4711"), self.device(CART)
            stream.cookie = cart.cookie
            told = stream.begin("/api/tables/1/line/stream")
            self.assertIn(b"event: line", told.readline())
            if ends == "signed off":
                cart.ask("POST", "/api/door/sign-off")
            for device in self.here("GET", "/api/devices").json() if ends == "put out" else ():
                if device["person"] == "Ash":
                    self.here("DELETE", f"/api/devices/{device['id']}")
            while told.readline():  # it is ended by the server: this returns
                pass

    def test_whoever_signed_on_is_who_did_it_and_nobody_else_can_say_so(self) -> None:
        cart = self.paired()
        path = f"/api/trials/{HALF_WAY}/cuts"
        unsigned = cart.ask("POST", path, {**CUT, "key": "unsigned"})
        self.assertEqual((unsigned.status, unsigned.json()["errors"][0]["field"]), (401, "sign_on"))
        wrong = {"person_id": self.ids["Ash"], "pin": "0007"}
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

    def test_each_role_gets_at_what_is_theirs_and_at_nothing_else(self) -> None:
        order = ("nothing", "device", "person", "lead_hand", "this_machine")
        roles = {
            "device": self.paired(),
            "person": self.paired("Ash", "4711"),
            "lead_hand": self.paired("Rowan", "081508"),
        }
        walked = 0
        for line in RIGHTS.read_text().splitlines():
            wanted, method, path = line.split(" ")
            plain = re.sub(r"{[^}]*}", "99999", path)
            for role, device in roles.items():
                allowed = order.index(role) >= order.index(wanted)
                if allowed and (method, path) in _LEFT_OUT:
                    continue
                answer = device.ask(method, plain, {} if method != "GET" else None)
                self.assertEqual(answer.status in (401, 403), not allowed, f"{role}: {method} {path}")
                walked += 1
        self.assertGreater(walked, 600)

    def test_foreign_hosts_and_pages_are_refused_before_the_door(self) -> None:
        cart = self.paired()
        for headers in (
            {"host": "shop.example"},
            {"host": f"x@{SERVED_AT}"},
            {"origin": "https://evil.example"},
            {"origin": f"http://{SERVED_AT}:{self.lan_port}"},
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
        for easy in ("0000", "1234", "987654", "4747"):
            refused = ask("/api/people", json={**new, "name": easy, "pin": easy})
            self.assertIn("anybody tries", refused.json()["detail"])
        with shop.database.write() as session:
            cart, office = (devices.pair(session, name)[0].id or 0 for name in ("cart", "office"))

        def tries(device: int, pin: str, *, looked_at: bool = True) -> bool:
            with shop.database.write() as session:
                kept = pins.begin_try(session, device, rowan)
            right = looked_at and pins.is_right(kept, pin)
            with shop.database.write() as session:
                pins.end_try(session, device, rowan, right=right)
            return right

        waits = []
        for _round in range(12):
            # A PIN is hashed slowly on purpose: of these sixty that are wrong, each round looks at one.
            self.assertFalse(any(tries(cart, "0007", looked_at=n == 0) for n in range(5)))
            with self.assertRaises(TooManyTries) as refused_now:
                tries(cart, "4711")
            waits.append(refused_now.exception.sentence)
            with shop.database.write() as session:  # time passes
                for row in pins.wrong_at(session):
                    row.locked_until = None
                    session.add(row)
        self.assertIn("wait 5 minutes", waits[0])
        self.assertIn("wait 24 hours", waits[-1])  # so ten thousand PINs take more than five years
        self.assertTrue(tries(office, "4711"))  # another device is not locked out by it
        for _ in range(5):
            tries(cart, "0007")
        shown = {d["name"]: d for d in shop.client.get("/api/devices").json()}
        self.assertEqual(
            (shown["cart"]["wrong_pins"], shown["cart"]["wrong_for"], shown["office"]["wrong_pins"]),
            (65, ["Rowan"], 0),
        )
        shop.client.patch(f"/api/people/{rowan}", json={"pin": "4712"})
        self.assertTrue(tries(cart, "4712"))

    def test_every_operation_has_a_stated_right(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        stated = dict(reversed(line.split(" ", 1)) for line in RIGHTS.read_text().splitlines())  # type: ignore[arg-type]
        found = {}
        for path, methods in create_app(shop.database).openapi()["paths"].items():
            for method in methods:
                plain = re.sub(r"{[^}]*}", "1", path)
                found[f"{method.upper()} {path}"] = needs(method.upper(), plain)
        self.assertEqual(found, stated, f"a new operation says in {RIGHTS.name} who may do it")
        # Nothing real hangs on a practice table; who practises is known all the same.
        self.assertEqual(needs("POST", "/on-practice/api/book/import"), "person")
        self.assertEqual(needs("GET", "/on-practice/api/trials"), "device")
        self.assertEqual(needs("POST", "/on-practice-not/api/book/import"), "person")

    def test_a_practice_table_is_told_no_address(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        with shop.client as client:  # the line of a practice table would connect from here
            told = client.put("/on-practice/api/tables/1/line", json={"host": "127.0.0.1", "port": 22})
        self.assertEqual((told.status_code, told.json()["errors"][0]["field"]), (422, "host"))

    def test_a_certificate_holds_for_its_names_and_is_made_anew_for_others(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        folder = shop.database.path.parent
        names = frozenset({"192.0.2.7", "cart.local"})
        first, key, authority = certificate(folder, names)
        seen = fingerprint(first)
        self.assertEqual(key.stat().st_mode & 0o077, 0)
        self.assertEqual(fingerprint(certificate(folder, names)[0]), seen)
        leaf, root = x509.load_pem_x509_certificates(first.read_bytes())
        self.assertEqual(authority.read_bytes(), root.public_bytes(serialization.Encoding.PEM))
        leaf.verify_directly_issued_by(root)
        # The key that is kept is not that of the authority, which stands for these names alone.
        private = serialization.load_pem_private_key(key.read_bytes(), None)
        self.assertEqual(private.public_key(), leaf.public_key())
        self.assertNotEqual(private.public_key(), root.public_key())
        self.assertFalse(leaf.extensions.get_extension_for_class(x509.BasicConstraints).value.ca)
        alone = root.extensions.get_extension_for_class(x509.NameConstraints)
        self.assertTrue(alone.critical)
        said = {str(n.value) for n in alone.value.permitted_subtrees or ()}
        self.assertEqual(said, {"192.0.2.7/32", "cart.local"})
        self.assertNotEqual(fingerprint(certificate(folder, frozenset({"192.0.2.8"}))[0]), seen)


if __name__ == "__main__":
    unittest.main()
