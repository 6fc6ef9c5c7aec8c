"""The models' files: taken out of an archive, checked, found, and what is said without them."""

from __future__ import annotations

import hashlib
import zipfile

import pytest

from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.models.nets import FILES
from dolcezza.services import model_files
from dolcezza.services.model_files import SHA256, VARIABLE, fetch, model_folder, unpack


@pytest.fixture
def archive(tmp_path, monkeypatch):
    """A package with stand-ins of the models, whose sums are the ones asked for."""
    path = tmp_path / "package.whl"
    with zipfile.ZipFile(path, "w") as package:
        for name in SHA256:
            package.writestr(f"package/modules/{name}", name.encode())
            monkeypatch.setitem(SHA256, name, hashlib.sha256(name.encode()).hexdigest())
    monkeypatch.setattr(model_files, "environment_folder", lambda: tmp_path / "here")
    return path


def test_the_models_that_ship_are_those_asked_for():
    folder = model_folder()
    assert {name: hashlib.sha256((folder / name).read_bytes()).hexdigest() for name in FILES.values()} == SHA256


def test_models_are_taken_out_and_then_found(archive, tmp_path):
    assert unpack(archive) == tmp_path / "here" == model_folder()
    assert (tmp_path / "here" / "pose_detection.tflite").read_bytes() == b"pose_detection.tflite"


def test_where_the_environment_may_not_be_written_they_are_the_users(archive, tmp_path, monkeypatch):
    monkeypatch.setattr(model_files.os, "access", lambda *_: False)
    assert unpack(archive) == tmp_path / "xdg_data_home" / "dolcezza" / "models"


def test_other_models_and_other_files_are_refused(archive, tmp_path, monkeypatch):
    monkeypatch.setitem(SHA256, "pose_detection.tflite", "0" * 64)
    with pytest.raises(ModelsMissing, match=r"does not hold the models .*pose_detection"):
        unpack(archive)
    assert not (tmp_path / "here").exists(), "nothing of it is kept"
    (tmp_path / "text.whl").write_text("no archive")
    with pytest.raises(ModelsMissing, match="cannot be read"):
        unpack(tmp_path / "text.whl")


def test_a_folder_that_is_named_is_the_only_one(tmp_path, monkeypatch):
    monkeypatch.setenv(VARIABLE, str(tmp_path / "empty"))
    with pytest.raises(ModelsMissing, match="dolcezza setup"):
        model_folder()


def test_without_the_network_fetching_ends_with_what_to_do(monkeypatch):
    for name in ("PIP_INDEX_URL", "PIP_EXTRA_INDEX_URL", "PIP_FIND_LINKS"):
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setenv("PIP_NO_INDEX", "1")
    monkeypatch.setenv("PIP_CONFIG_FILE", "/dev/null")
    with pytest.raises(ModelsMissing, match="could not be fetched"):
        fetch()
