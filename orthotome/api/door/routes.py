"""The door: who stands at this screen, people, devices, and letting a new one in."""

import io
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated, cast

import segno
from fastapi import Depends, Request
from fastapi.responses import FileResponse

from orthotome.api.depends import Reading, Store
from orthotome.api.door import models
from orthotome.api.door.pairing import Code, Pairing
from orthotome.api.routing import room
from orthotome.api.wire import Id
from orthotome.desk.working.journal import journal
from orthotome.store.errors import NotFound, Refused
from orthotome.store.people import devices, people, pins
from orthotome.store.people.devices import LetIn
from orthotome.store.tables import DeviceRow, PersonRow, PinTryRow

router = room("door", in_the_shops_units=False)


@dataclass
class Network:
    """What is served to the shop's network; nothing where it is off."""

    addresses: tuple[str, ...] = ()
    fingerprint: str = ""
    certificate: Path | None = None
    pairing: Pairing = field(default_factory=Pairing)


def _network(request: Request) -> Network:
    return cast(Network, request.app.state.network)


def _device(request: Request) -> LetIn | None:
    return getattr(request.state, "device", None)


TheNetwork = Annotated[Network, Depends(_network)]
ThisDevice = Annotated[LetIn | None, Depends(_device)]


@router.get("/door")
def get_door(session: Reading, device: ThisDevice) -> models.DoorAnswer:
    """This screen: where it stands, and who is signed on."""
    role = "lead_hand" if device is None else device.role or "operator"
    return models.DoorAnswer(
        on_network=device is not None,
        device=device.device if device else None,
        person=device.person if device else None,
        role=role,
        people=[_person(p) for p in people.people(session)],
    )


@router.post("/door/sign-on")
def sign_on(request: models.SignOnRequest, database: Store, device: ThisDevice) -> models.PersonAnswer:
    """Sign on at this device with a name and a PIN."""
    if device is None:
        raise Refused("Nobody signs on at the machine that serves Orthotome.", "person_id")
    with database.write() as session:  # a try is counted, so this is kept whatever comes of it
        kept = pins.begin_try(session, device.device_id, request.person_id)
    right = pins.is_right(kept, request.pin)
    with database.write() as session:
        pins.end_try(session, device.device_id, request.person_id, right=right)
        if right:
            devices.sign_on(session, device.device_id, request.person_id)
        answer = _person(people.person(session, request.person_id))
    if not right:
        journal.warning("a wrong PIN for %s at the device %s", answer.name, device.device)
        raise Refused("That is not the PIN.", "pin")
    return answer


@router.post("/door/sign-off", status_code=204)
def sign_off(database: Store, device: ThisDevice) -> None:
    """Whoever is signed on at this device goes."""
    if device is not None:
        with database.write() as session:
            devices.sign_on(session, device.device_id, None)


@router.get("/people")
def get_people(session: Reading) -> list[models.PersonAnswer]:
    """Who may sign on."""
    return [_person(p) for p in people.people(session)]


@router.post("/people", status_code=201)
def add_person(request: models.PersonRequest, database: Store) -> models.PersonAnswer:
    """Somebody new."""
    kept = pins.hashed(request.pin)
    with database.write() as session:
        return _person(people.add_person(session, request.name.strip(), request.role, kept))


@router.patch("/people/{person_id}")
def change_person(person_id: Id, request: models.PersonChange, database: Store) -> models.PersonAnswer:
    """Another role or PIN; a new PIN signs off everywhere."""
    kept = None if request.pin is None else pins.hashed(request.pin)
    with database.write() as session:
        changed = people.change_person(session, person_id, role=request.role, pin_hash=kept)
        if kept is not None:
            pins.forget_tries(session, person_id=person_id)
        return _person(changed)


@router.delete("/people/{person_id}", status_code=204)
def strike_person(person_id: Id, database: Store) -> None:
    """Somebody left: signed off everywhere. What they did keeps their name."""
    with database.write() as session:
        people.strike_person(session, person_id)


@router.get("/devices")
def get_devices(session: Reading) -> list[models.DeviceAnswer]:
    """The devices that are let in."""
    named = {p.id: p.name for p in people.people(session)}
    wrong: dict[int, list[PinTryRow]] = defaultdict(list)
    for row in pins.wrong_at(session):
        wrong[row.device_id].append(row)
    return [
        _device_answer(d, named.get(d.person_id), wrong[d.id or 0], named)
        for d in devices.devices(session)
    ]


@router.delete("/devices/{device_id}", status_code=204)
def put_out(device_id: Id, database: Store) -> None:
    """Put a device out: its next request is refused."""
    with database.write() as session:
        devices.revoke(session, device_id)


@router.get("/network")
def get_network(network: TheNetwork) -> models.NetworkAnswer:
    """Whether the shop's network is served, and how a device knows this machine."""
    return models.NetworkAnswer(
        on=bool(network.addresses),
        addresses=list(network.addresses),
        fingerprint=network.fingerprint,
        wrong_codes=network.pairing.wrong,
    )


@router.get("/network/certificate")
def get_certificate(network: TheNetwork) -> FileResponse:
    """The certificate, to be trusted by a device once its fingerprint was compared."""
    if network.certificate is None:
        raise NotFound("The shop's network is not served: start with --lan.", "network")
    return FileResponse(
        network.certificate, media_type="application/x-x509-ca-cert", filename="orthotome.crt"
    )


@router.get("/pairing")
def get_pairing(network: TheNetwork) -> models.PairingAnswer:
    """The pairing code that lives, if any."""
    return _pairing(network, network.pairing.shown())


@router.post("/pairing", status_code=201)
def begin_pairing(network: TheNetwork) -> models.PairingAnswer:
    """Show a new pairing code, good for ten minutes and one device."""
    if not network.addresses:
        raise Refused(
            "The shop's network is not served: stop Orthotome, and start it with --lan.", "network"
        )
    return _pairing(network, network.pairing.begin())


@router.delete("/pairing", status_code=204)
def end_pairing(network: TheNetwork) -> None:
    """Take the code away."""
    network.pairing.end()


def _pairing(network: Network, shown: Code | None) -> models.PairingAnswer:
    if shown is None or not network.addresses:
        return models.PairingAnswer(code="", seconds_left=0, address="", square_code="")
    address = f"{network.addresses[0]}/pair"
    drawn = io.BytesIO()
    segno.make(f"{address}?code={shown.code}", error="m").save(
        drawn, kind="svg", border=4, light="#fff", xmldecl=False, svgns=True, omitsize=True
    )
    return models.PairingAnswer(
        code=f"{shown.code[:4]} {shown.code[4:]}",
        seconds_left=round(shown.seconds_left),
        address=address,
        square_code=drawn.getvalue().decode(),
    )


def _person(row: PersonRow) -> models.PersonAnswer:
    return models.PersonAnswer(id=row.id or 0, name=row.name, role=row.role)


def _device_answer(
    row: DeviceRow, who: str | None, wrong: Sequence[PinTryRow], named: Mapping[int | None, str]
) -> models.DeviceAnswer:
    return models.DeviceAnswer(
        id=row.id or 0,
        name=row.name,
        paired_at=row.paired_at,
        seen_at=row.seen_at,
        person=who,
        wrong_pins=sum(w.wrong for w in wrong),
        wrong_for=[named[w.person_id] for w in wrong if w.person_id in named],
        wrong_at=wrong[0].last_at if wrong else None,
    )
