"""What is public says what it is: modules, classes, functions, and methods (by themselves or by what
they carry out)."""

import importlib
import inspect
import pkgutil

import pytest
from pydantic import BaseModel

import young_comet

# The framework's own: their names say all, and HTTP handlers' docstrings become the API's texts.
NAMES = {"model_config", "model_post_init"}


def modules():
    for info in pkgutil.walk_packages(young_comet.__path__, "young_comet."):
        if ".migrations" not in info.name and not info.name.endswith("__main__"):
            yield info.name


def public(holder, module):
    for name, each in vars(holder).items():
        if not name.startswith("_") and getattr(each, "__module__", None) == module:
            yield name, each


def undocumented(module_name):
    module = importlib.import_module(module_name)
    if not module.__doc__ and module.__file__ and not module.__file__.endswith("__init__.py"):
        yield module_name
    for name, each in public(module, module_name):
        if inspect.isfunction(each) and not inspect.getdoc(each):
            yield f"{module_name}.{name}"
        if not inspect.isclass(each):
            continue
        own = each.__doc__
        if not own or (issubclass(each, BaseModel) and own == BaseModel.__doc__):
            yield f"{module_name}.{name}"
        fields = set(getattr(each, "__dataclass_fields__", ()))
        for method, function in vars(each).items():
            plain = getattr(function, "__func__", getattr(function, "fget", function))
            if method.startswith("_") or not inspect.isfunction(plain) or method in NAMES | fields:
                continue
            if not inspect.getdoc(getattr(each, method, None) or plain):
                yield f"{module_name}.{name}.{method}"


@pytest.mark.parametrize("module", sorted(modules()))
def test_what_is_public_says_what_it_is(module):
    assert list(undocumented(module)) == []
