"""The landmark net: ``python tools/train/train_landmarks.py PICTURES OUT.onnx --minutes M`` (needs PyTorch and onnx, see README.md here).

A small net of five levels gives, for each place, how likely it lies in each cell of 4 x 4 pixels; it learns from made-up pictures alone
(``make_pictures.py``). Seeded; the last 4 files are kept apart to see how well it does on what it has not learnt.
"""

from __future__ import annotations

import argparse
import time
from pathlib import Path

import numpy as np
import torch
from torch import nn
from torch.nn import functional

CELL = 4
SD_CELLS = 0.8
PLACES = 14


def block(inside: int, outside: int, stride: int = 1) -> nn.Sequential:
    return nn.Sequential(nn.Conv2d(inside, outside, 3, stride, 1, bias=False), nn.BatchNorm2d(outside), nn.ReLU(inplace=True))


class Residual(nn.Module):
    """A 3 x 3 step that is added to what came in."""

    def __init__(self, width: int) -> None:
        super().__init__()
        self.step = nn.Sequential(nn.Conv2d(width, width, 3, 1, 1, bias=False), nn.BatchNorm2d(width))

    def forward(self, x: torch.Tensor) -> torch.Tensor:
        return functional.relu(x + self.step(x))


class LandmarkNet(nn.Module):
    """(n, 3, h, w) in 0..1 to (n, 14, h / 4, w / 4) logits; h and w are multiples of 64."""

    def __init__(self, widths: tuple[int, ...] = (16, 32, 56, 88, 112, 112), out: int = 40) -> None:
        super().__init__()
        self.stem = block(3, widths[0], 2)
        self.down = nn.ModuleList(
            nn.Sequential(block(a, b, 2), *(Residual(b) for _ in range(n)))
            for a, b, n in zip(widths[:-1], widths[1:], (1, 1, 2, 1, 1), strict=True)
        )
        self.side = nn.ModuleList(nn.Conv2d(w, out, 1) for w in widths[1:])
        self.merge = nn.ModuleList(block(out, out) for _ in widths[1:-1])
        self.last = Residual(out)
        self.head = nn.Conv2d(out, PLACES, 1)

    def forward(self, x: torch.Tensor) -> torch.Tensor:
        x = self.stem(x)
        levels = []
        for step in self.down:
            x = step(x)
            levels.append(x)
        y = self.side[-1](levels[-1])
        for k in range(len(levels) - 2, -1, -1):
            y = self.merge[k](functional.interpolate(y, scale_factor=2.0, mode="nearest") + self.side[k](levels[k]))
        return self.head(self.last(y))


def targets(places: torch.Tensor, px: int) -> tuple[torch.Tensor, torch.Tensor]:
    """Where each place lies as shares of the cells (n, 14, cells), and which lie in the picture (n, 14)."""
    n = px // CELL
    middle = torch.arange(n) + 0.5
    x, y = places[..., 0] / CELL, places[..., 1] / CELL
    inside = (x > 0) & (x < n) & (y > 0) & (y < n)
    gx = torch.exp(-0.5 * ((middle - x[..., None]) / SD_CELLS) ** 2)
    gy = torch.exp(-0.5 * ((middle - y[..., None]) / SD_CELLS) ** 2)
    map_ = (gy[..., :, None] * gx[..., None, :]).flatten(2)
    return map_ / map_.sum(2, keepdim=True).clamp_min(1e-9), inside


def loss_of(logits: torch.Tensor, places: torch.Tensor, px: int) -> torch.Tensor:
    """What each place's likelihood lacks; a place outside asks for nothing to stand out anywhere."""
    map_, inside = targets(places, px)
    flat = logits.flatten(2)
    # one more cell stands for "not in this picture"
    log_share = functional.log_softmax(torch.cat([flat, torch.zeros(*flat.shape[:2], 1)], 2), dim=2)
    there = -(map_ * log_share[..., :-1]).sum(2)
    return torch.where(inside, there, -log_share[..., -1]).mean()


def changed(images: torch.Tensor, places: torch.Tensor, rng: torch.Generator) -> tuple[torch.Tensor, torch.Tensor]:
    """Pictures turned, stretched and moved a little, brighter or darker, of other colour, blurred or with a patch missing."""
    n, _, px, _ = images.shape

    def uniform(low: float, high: float, *shape: int) -> torch.Tensor:
        return low + (high - low) * torch.rand(*shape, generator=rng)

    turn, scale = uniform(-0.2, 0.2, n), torch.exp(uniform(-0.2, 0.2, n))
    move = uniform(-0.1, 0.1, n, 2) * px
    c, s = torch.cos(turn) * scale, torch.sin(turn) * scale
    forth = torch.stack([torch.stack([c, -s], 1), torch.stack([s, c], 1)], 1)
    back = torch.linalg.inv(forth)
    middle = px / 2
    shift = -(back @ move[..., None])[..., 0] / middle
    images = functional.grid_sample(
        images,
        functional.affine_grid(torch.cat([back, shift[..., None]], 2), list(images.shape), align_corners=False),
        align_corners=False,
        padding_mode="reflection",
    )
    places = ((places - middle) @ forth.transpose(1, 2)) + middle + move[:, None]
    images = images * uniform(0.7, 1.35, n, 1, 1, 1) * uniform(0.88, 1.14, n, 3, 1, 1)
    images = images.clamp_min(1e-4) ** torch.exp(uniform(-0.25, 0.25, n, 1, 1, 1))
    for k in range(n):
        if torch.rand(1, generator=rng) < 0.3:
            w, h = (int(v) for v in uniform(10, 70, 2))
            x, y = (int(v) for v in uniform(0, px - 70, 2))
            images[k, :, y : y + h, x : x + w] = uniform(0, 1, 3, 1, 1)
    return images.clamp(0, 1), places


def decoded(logits: torch.Tensor) -> torch.Tensor:
    """Most likely places (n, 14, 2) px."""
    w = logits.shape[3]
    best = logits.flatten(2).argmax(2)
    return torch.stack([best % w + 0.5, best // w + 0.5], 2) * CELL


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("pictures", type=Path)
    parser.add_argument("out", type=Path)
    parser.add_argument("--minutes", type=float, default=60)
    parser.add_argument("--batch", type=int, default=32)
    parser.add_argument("--rate", type=float, default=3e-3)
    parser.add_argument("--start", type=Path)
    options = parser.parse_args()
    torch.manual_seed(0)
    rng = torch.Generator().manual_seed(1)
    names = sorted(p.with_name(p.name.replace(".places.npy", "")) for p in options.pictures.glob("*.places.npy"))
    kept, names = names[-2:], names[:-2]

    def read(files: list[Path]) -> tuple[np.ndarray, np.ndarray]:
        return np.concatenate([np.load(f"{f}.images.npy") for f in files]), np.concatenate([np.load(f"{f}.places.npy") for f in files])

    images, places = read(names)
    test = read(kept)
    print(len(images), "pictures to learn,", len(test[0]), "kept apart", flush=True)
    net = LandmarkNet()
    if options.start:
        net.load_state_dict(torch.load(options.start))
    print(sum(p.numel() for p in net.parameters()), "weights", flush=True)
    net = net.to(memory_format=torch.channels_last)
    learner = torch.optim.AdamW(net.parameters(), lr=options.rate, weight_decay=1e-2)
    px = images.shape[1]
    began, seen, rate = time.time(), 0, options.rate
    order = np.random.default_rng(2)
    total, last = 0.0, time.time()
    step = 0
    while (done := (time.time() - began) / (60 * options.minutes)) < 1:
        rate = options.rate * min(1.0, step / 200) * (0.5 * (1 + np.cos(np.pi * done)) + 0.005)
        for group in learner.param_groups:
            group["lr"] = rate
        chosen = order.integers(0, len(images), options.batch)
        x = torch.from_numpy(images[chosen]).permute(0, 3, 1, 2).float() / 255
        x, p = changed(x, torch.from_numpy(places[chosen]), rng)
        net.train()
        learner.zero_grad()
        loss = loss_of(net(x.to(memory_format=torch.channels_last)), p, px)
        loss.backward()
        nn.utils.clip_grad_norm_(net.parameters(), 5.0)
        learner.step()
        total += float(loss.detach()) * options.batch
        seen += options.batch
        step += 1
        if time.time() - last > 60:
            net.eval()
            with torch.no_grad():
                off, miss = [], []
                for k in range(0, len(test[0]), 64):
                    z = net(torch.from_numpy(test[0][k : k + 64]).permute(0, 3, 1, 2).float() / 255)
                    off.append((decoded(z) - torch.from_numpy(test[1][k : k + 64])).norm(dim=2))
                    miss.append(float(loss_of(z, torch.from_numpy(test[1][k : k + 64]), px)))
                far = torch.cat(off)
                inside = ((torch.from_numpy(test[1]) > 0) & (torch.from_numpy(test[1]) < px)).all(2)
                near = float((far[inside] < 6).float().mean())
                told = f"{(time.time() - began) / 60:.1f} min, {seen} seen, loss {total / seen:.3f}, kept apart {np.mean(miss):.3f}"
                print(f"{told}, median {float(far[inside].median()):.2f} px, within 6 px {near:.3f}", flush=True)
            total, seen, last = 0.0, 0, time.time()
            torch.save(net.state_dict(), options.out.with_suffix(".pt"))
    net.eval()
    torch.save(net.state_dict(), options.out.with_suffix(".pt"))
    torch.onnx.export(
        net, (torch.zeros(1, 3, px, px),), str(options.out), input_names=["picture"], output_names=["logits"], opset_version=13,
        dynamo=False, dynamic_axes={"picture": {2: "h", 3: "w"}, "logits": {2: "h", 3: "w"}},
    )  # fmt: skip


if __name__ == "__main__":
    main()
