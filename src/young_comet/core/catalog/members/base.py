"""What members of a layer have in common: records with an id, a kind, a switch and properties.

A family (masks, effects, moves, parts) says where a layer keeps its members, which kinds there are
and what each kind declares; everything else - finding, adding, removing, ordering, copying, the
addresses of properties - is the same for all and done here.

The properties of a member are properties of its layer, addressed as ``FAMILY.ID.NAME``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import lru_cache
from typing import Any, Generic, Protocol, TypeVar

from pydantic import ValidationError

from ....errors import DocumentError, NotFoundError
from ...model.document import Layer, Member
from ...model.property import Property
from ...model.schema import from_validation
from ...model.specs import PropertySpec

M = TypeVar("M", bound=Member)


def check_seen(layer: Layer, what: str, where: str) -> None:
    """Raises DocumentError for a layer that is only heard."""
    if layer.kind == "sound":
        raise DocumentError(f"a sound has no picture that could have a {what}", field=where)


class MemberFamily(Generic[M]):
    """One family. Subclasses give the constants and what is marked *must*."""

    id: str
    """The first part of its properties' addresses: "mask"."""
    field: str
    """Where a layer and edits keep them: "masks"."""
    label: str
    """What a person calls one, within a sentence."""
    model: type[M]
    kind_field: str = "kind"
    """The field of a member that tells its kind; "" where all are of one."""
    variant_field: str = ""
    """The field of a member by whose value a kind may declare otherwise; "" where none does."""
    variants: Mapping[str, str] = {}
    """What such a value adds to the id under which the kind is declared."""
    changeable: tuple[str, ...] = ("on", "name")
    """The fields that an edit may set."""

    def kind_of(self, member: M) -> str:
        """Under which id its kind is declared; the family's own where all are of one kind."""
        kind: str = getattr(member, self.kind_field) if self.kind_field else self.id
        if not self.variant_field:
            return kind
        return kind + self.variants.get(getattr(member, self.variant_field), "")

    def kinds(self) -> Sequence[str]:
        """Must. The ids of all kinds; one that ends in a colon stands for all that begin so."""
        raise NotImplementedError

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        """Must. What a kind declares, by plain names; None for a kind that is not known."""
        raise NotImplementedError

    def name_of(self, member: M) -> str:
        """Must. What a person calls this one."""
        raise NotImplementedError

    def check(self, layer: Layer, member: M, where: str) -> None:
        """May. Raises DocumentError where a document must not hold it on that layer."""

    def suits(self, layer: Layer) -> bool:
        """May. Whether such a layer can have members of the family at all."""
        return layer.kind != "sound"

    def fitted(self, layer: Layer, member: M) -> M:
        """May. The member as it is put on a layer; DocumentError where it can do nothing there."""
        return member

    def layers_named(self, member: M) -> tuple[str, ...]:
        """May. The ids of layers that a member names in its own fields."""
        return ()

    def with_layers_named(self, member: M, new_id: Callable[[str], str | None]) -> M:
        """May. The member naming layers by other ids; None is a layer that is not there."""
        return member

    # Addresses

    def prefix(self, member_id: str) -> str:
        """With what the addresses of a member's properties begin."""
        return f"{self.id}.{member_id}."

    def specs(self, member: M) -> Mapping[str, PropertySpec]:
        """A member's declarations by their full ids, the parts of split points too."""
        return _specs(self, member.id, self.kind_of(member))

    def fields(self, member: M) -> tuple[PropertySpec, ...]:
        """A member's declarations by their full ids, in the order of its fields."""
        return _fields(self, member.id, self.kind_of(member))

    def spec_of_kind(self, kind_id: str, name: str) -> PropertySpec | None:
        """What members of a kind declare under a plain name."""
        return _specs(self, "x", kind_id).get(self.prefix("x") + name)

    def spec(self, layer: Layer, rest: str) -> PropertySpec | None:
        """The declaration of a property by what follows the family in its address."""
        member_id = rest.partition(".")[0]
        for member in self.members(layer):
            if member.id == member_id:
                return self.specs(member).get(f"{self.id}.{rest}")
        return None

    def holds(self, property_id: str) -> bool:
        """Whether an address is that of a member's property."""
        return property_id.startswith(f"{self.id}.")

    # A layer's members

    def members(self, layer: Layer) -> tuple[M, ...]:
        """Those of a layer, in their order."""
        found: tuple[M, ...] = getattr(layer, self.field)
        return found

    def find(self, layer: Layer, member_id: str) -> M:
        """The one of an id, or NotFoundError."""
        for member in self.members(layer):
            if member.id == member_id:
                return member
        raise NotFoundError(f"{layer.name!r} has no {self.label} {member_id!r}", field=self.id)

    def own(self, layer: Layer, member_id: str) -> dict[str, Property]:
        """A member's properties by their plain names."""
        prefix = self.prefix(member_id)
        return {
            name.removeprefix(prefix): prop
            for name, prop in layer.properties.items()
            if name.startswith(prefix)
        }

    def added(
        self,
        layer: Layer,
        member: M,
        properties: Mapping[str, Property] | None = None,
        index: int | None = None,
    ) -> Layer:
        """The layer with one more, after the others or before the one of an index;
        ``properties`` are its own by plain names."""
        others: tuple[M, ...] = self.members(layer)
        if any(each.id == member.id for each in others):
            raise DocumentError(f"there is a {self.label} {member.id!r} already", field=self.id)
        at: int = len(others) if index is None else min(index, len(others))
        fitted = self.fitted(layer, member)
        prefix = self.prefix(member.id)
        held = {prefix + name: prop for name, prop in (properties or {}).items()}
        members = (*others[:at], fitted, *others[at:])
        properties = {**layer.properties, **held}
        return layer.model_copy(update={self.field: members, "properties": properties})

    def without(self, layer: Layer, member_ids: Iterable[str]) -> Layer:
        """The layer without some of them and their properties; NotFoundError for one it has not."""
        gone = {self.find(layer, member_id).id for member_id in member_ids}
        prefixes = tuple(self.prefix(member_id) for member_id in gone)
        properties = {
            name: prop for name, prop in layer.properties.items() if not name.startswith(prefixes)
        }
        kept = tuple(each for each in self.members(layer) if each.id not in gone)
        return layer.model_copy(update={self.field: kept, "properties": properties})

    def changed(self, layer: Layer, member: M, index: int | None = None) -> Layer:
        """The layer with the member of that id as given, at another place in the order where an
        index is given."""
        old = self.find(layer, member.id)
        members = [member if each is old else each for each in self.members(layer)]
        if index is not None:
            members.remove(member)
            members.insert(min(index, len(members)), member)
        return layer.model_copy(update={self.field: tuple(members)})

    def with_fields(self, member: M, fields: Mapping[str, Any]) -> M:
        """A member with other values in fields that an edit may set; DocumentError names one that
        is not among them or not of its type."""
        for name in fields:
            if name not in self.changeable:
                raise DocumentError.expected("set", " or ".join(self.changeable), name)
        try:
            return self.model.model_validate({**member.model_dump(), **fields})
        except ValidationError as error:
            raise from_validation(error) from error

    def read(self, data: Any) -> M:
        """A member from its JSON form, or DocumentError."""
        try:
            return self.model.model_validate(data)
        except ValidationError as error:
            raise from_validation(error) from error


class Registered(Protocol):
    """A kind of a registry."""

    @property
    def specs(self) -> tuple[PropertySpec, ...]:
        """Must. What members of the kind declare."""
        ...


class OfRegistry(MemberFamily[M]):
    """A family whose kinds are those of a registry."""

    registry: Mapping[str, Registered]

    def kinds(self) -> Sequence[str]:
        return tuple(self.registry)

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        kind = self.registry.get(kind_id)
        return None if kind is None else kind.specs


@lru_cache(maxsize=16384)
def _fields(family: MemberFamily[Any], member_id: str, kind_id: str) -> tuple[PropertySpec, ...]:
    prefix, section = family.prefix(member_id), f"{family.id}:{member_id}"
    return tuple(spec.under(prefix, section) for spec in family.declared(kind_id) or ())


@lru_cache(maxsize=16384)
def _specs(family: MemberFamily[Any], member_id: str, kind_id: str) -> dict[str, PropertySpec]:
    index: dict[str, PropertySpec] = {}
    for spec in _fields(family, member_id, kind_id):
        index[spec.id] = spec
        if spec.split:
            index |= {part.id: part for part in spec.parts()}
    return index
