"""Trains the edge net: from colours and a rough mask to coverage in a band round the mask's edge.

    train_edge.py PATCHES.npz... --minutes 30 --out edge.onnx

The input's planes are those of core/matting/edge_net.cpp. Also writes OUT.pt, from which, or from OUT, --start goes on.
"""

import argparse
import os
import time

import numpy as np
import onnx
import onnx.numpy_helper
import torch
import torch.nn.functional as F
from torch import nn

from side_colours import SHARES, oklab

HELD_OUT = 1200  # patches, whole scenes, at the beginning
BATCH = 16
PLANES = 17 + SHARES


def pair(planes_in, planes_out):
    return nn.Sequential(nn.Conv2d(planes_in, planes_out, 3, padding=1), nn.ReLU(),
                         nn.Conv2d(planes_out, planes_out, 3, padding=1), nn.ReLU())


class EdgeNet(nn.Module):
    """A U-Net that adds instead of joining."""

    def __init__(self, widths=(16, 32, 64, 64)):
        super().__init__()
        self.e = nn.ModuleList([pair(PLANES, widths[0])] + [pair(widths[i], widths[i + 1]) for i in range(3)])
        self.u = nn.ModuleList([nn.Conv2d(widths[i + 1], widths[i], 1) for i in range(3)])
        self.d = nn.ModuleList([pair(widths[i], widths[i]) for i in range(3)])
        self.o = nn.Conv2d(widths[0], 1, 1)

    def forward(self, x):
        """Logits."""
        kept = []
        for i, down in enumerate(self.e):
            x = down(x)
            if i < 3:
                kept.append(x)
                x = F.max_pool2d(x, 2)
        for i in (2, 1, 0):
            x = self.d[i](F.interpolate(self.u[i](x), scale_factor=2, mode='nearest') + kept[i])
        return self.o(x)


class Coverage(nn.Module):
    def __init__(self, net):
        super().__init__()
        self.net = net

    def forward(self, x):
        return torch.sigmoid(self.net(x))


def mean_round(x, radius):
    x = F.avg_pool2d(x, (1, 2 * radius + 1), 1, (0, radius))
    return F.avg_pool2d(x, (2 * radius + 1, 1), 1, (radius, 0))


def planes(lab, depth, off, shares):
    wrong_by = off.clamp(min=2)
    told = torch.logit(shares.clamp(0.02, 0.98)) / 3
    out = [(lab - torch.tensor([0.6, 0, 0]).view(1, 3, 1, 1)) * torch.tensor([3., 6, 6]).view(1, 3, 1, 1),
           depth.clamp(-16, 16) / 8, off / 8, told]
    for side in (1, -1):
        weight = ((side * depth / wrong_by + 1) / 2).clamp(0, 1) ** 2
        for radius in (5, 14):
            mean = (mean_round(weight * lab, radius) + 1e-3 * lab) / (mean_round(weight, radius) + 1e-3)
            out.append((lab - mean) * 6)
    return torch.cat(out, 1).contiguous(memory_format=torch.channels_last)


class Patches:
    def __init__(self, files):
        loaded = [np.load(file) for file in files]
        for name in ('picture', 'matte', 'depth', 'shares', 'off'):
            setattr(self, name, np.concatenate([each[name] for each in loaded]))

    def batch(self, at, rng=None):
        """Input, matte and depth; with `rng` turned, mirrored and in other hues."""
        lab = oklab(self.picture[at]).astype(np.float32)
        if rng:
            lab = recoloured(rng, lab)
        depth = self.depth[at].astype(np.float32)[..., None] / 4
        off = np.broadcast_to(self.off[at][:, None, None, None], depth.shape)
        all_of = np.concatenate([lab, depth, off, self.shares[at] / np.float32(255),
                                 self.matte[at][..., None] / np.float32(255)], -1)
        if rng:
            all_of = np.rot90(all_of, rng.integers(4), (1, 2))
            if rng.random() < 0.5:
                all_of = all_of[:, ::-1]
        x = torch.from_numpy(np.ascontiguousarray(all_of)).permute(0, 3, 1, 2)
        return planes(x[:, :3], x[:, 3:4], x[:, 4:5], x[:, 5:5 + SHARES]), x[:, 5 + SHARES:].contiguous(), x[:, 3:4].contiguous()


def recoloured(rng, lab):
    def each(values):
        return values.astype(np.float32)[:, None, None]
    n = len(lab)
    turn = each(rng.uniform(0, 2 * np.pi, n))
    a = lab[..., 1] * each(rng.uniform(0.6, 1.25, n))
    b = lab[..., 2] * each(rng.uniform(0.6, 1.25, n)) * each(rng.choice([-1, 1], n))
    return np.stack([lab[..., 0], np.cos(turn) * a - np.sin(turn) * b, np.sin(turn) * a + np.cos(turn) * b], -1)


def loss_of(logits, matte, depth, share_of_entropy):
    weight = torch.exp(-torch.clamp(depth.abs() - 8, min=0) / 6) + 0.03
    off = (torch.sigmoid(logits) - matte).abs()
    off = off + share_of_entropy * F.binary_cross_entropy_with_logits(logits, matte, reduction='none')
    return (off * weight).sum() / weight.sum()


def held_out_error(net, patches):
    """Mean error within 10 px of the rough edge: of the mask, and of the net."""
    sums = np.zeros(3)
    net.eval()
    with torch.no_grad():
        for i in range(0, HELD_OUT, 40):
            x, matte, depth = patches.batch(np.arange(i, i + 40))
            near = (depth.abs() <= 10).float()
            mask = (depth > 0).float()
            sums += [((mask - matte).abs() * near).sum().item(),
                     ((torch.sigmoid(net(x)) - matte).abs() * near).sum().item(), near.sum().item()]
    net.train()
    return sums[0] / sums[2], sums[1] / sums[2]


def train(net, patches, minutes, rate, out):
    optimiser = torch.optim.AdamW(net.parameters(), lr=rate, weight_decay=1e-4)
    rng = np.random.default_rng(0)
    start = told = time.time()
    step = 0
    while (share := (time.time() - start) / 60 / minutes) < 1:
        for group in optimiser.param_groups:
            group['lr'] = rate * min(1, step / 200) * 0.5 * (1 + np.cos(np.pi * share)) + 1e-5
        x, matte, depth = patches.batch(rng.integers(HELD_OUT, len(patches.off), BATCH), rng)
        loss = loss_of(net(x), matte, depth, 0.15 * (1 - share))
        optimiser.zero_grad(set_to_none=True)
        loss.backward()
        torch.nn.utils.clip_grad_norm_(net.parameters(), 1.0)
        optimiser.step()
        step += 1
        if time.time() - told > 180:
            told = time.time()
            torch.save(net.state_dict(), out + '.pt')
            print(f'{(told - start) / 60:.0f} min, step {step}, held out %.4f -> %.4f' % held_out_error(net, patches),
                  flush=True)


def weights_of(path):
    """Of a .pt, or of an .onnx that was made here."""
    if path.endswith('.pt'):
        return torch.load(path)
    prefix = 'net.'  # of Coverage
    return {tensor.name[len(prefix):]: torch.from_numpy(onnx.numpy_helper.to_array(tensor).copy())
            for tensor in onnx.load(path).graph.initializer if tensor.name.startswith(prefix)}


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument('patches', nargs='+')
    parser.add_argument('--minutes', type=float, default=30)
    parser.add_argument('--rate', type=float, default=2.5e-3)
    parser.add_argument('--start')
    parser.add_argument('--out', required=True)
    args = parser.parse_args()
    torch.manual_seed(1)
    torch.set_num_threads(os.cpu_count())  # Debian's takes one
    net = EdgeNet().to(memory_format=torch.channels_last)
    if args.start:
        net.load_state_dict(weights_of(args.start))
    patches = Patches(args.patches)
    if args.minutes > 0:
        train(net, patches, args.minutes, args.rate, args.out)
        torch.save(net.state_dict(), args.out + '.pt')
    print('held out %.4f -> %.4f' % held_out_error(net, patches))
    net = Coverage(net.eval().to(memory_format=torch.contiguous_format))
    torch.onnx.export(net, torch.zeros(1, PLANES, 96, 96), args.out, input_names=['input'],
                      output_names=['coverage'], opset_version=11)


if __name__ == '__main__':
    main()
