using CsCheck;
using RustyLedger.Core.Diagnosis;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Tests.Wiring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Diagnosis;

public sealed class StretchTests
{
    private static readonly Gen<(FeedGraph Graph, Dictionary<int, PinEvidence> Evidence)> Cases = Gen.Select(
        Gen.OneOf(Graphs.WithoutLoops(), Graphs.Any()),
        Gen.Int[0, 5].Array[10],
        (graph, dice) =>
            (
                graph,
                Enumerable
                    .Range(0, graph.Pins.Count)
                    .Where(i => dice[i] > 1)
                    .ToDictionary(
                        i => i,
                        i =>
                            dice[i] switch
                            {
                                2 => Good,
                                3 => Marginal,
                                4 => Bad(0.8m),
                                _ => Bad(0.5m),
                            }
                    )
            )
    );

    private static PinEvidence Good => new(new Verdict(VerdictKind.Within, "", ""), 1m, 0.05m);

    private static PinEvidence Marginal => new(new Verdict(VerdictKind.Marginal, "", ""), 0.95m, 0.05m);

    [Fact]
    public void Stretches_agree_with_walking_every_path() =>
        Cases.Sample(
            c =>
            {
                var brute = new EveryPath(c.Graph, c.Evidence);
                var report = Report(c.Graph, c.Evidence);
                for (var pin = 0; pin < c.Graph.Pins.Count; pin++)
                {
                    Assert.Equal(brute.IsCleared(pin), report.ClearedPins[pin]);
                }

                for (var link = 0; link < c.Graph.Links.Count; link++)
                {
                    Assert.Equal(brute.LinkCleared(link), report.ClearedLinks[link]);
                }

                Assert.Equal(brute.Starts().Order(), report.Stretches.Select(s => s.Bad).Numbers().Order());
                foreach (var stretch in report.Stretches)
                {
                    // In a loop, which is reported as a thing to mend, the product may suspect a link that only a
                    // circling path uses; it never misses one.
                    var extra = stretch.Links.Numbers().Except(brute.Suspects(stretch.Bad)).ToList();
                    Assert.Subset(stretch.Links.Numbers().ToHashSet(), brute.Suspects(stretch.Bad).ToHashSet());
                    Assert.True(extra.Count == 0 || c.Graph.ToMend.Any(m => m.Kind == MendKind.Loop), $"{extra.Count} links too many");
                    Assert.Equal(brute.GoodEnds(stretch.Bad).Order(), stretch.GoodEnds.Numbers().Order());
                }
            },
            iter: 3000
        );

    /// <summary>
    /// No pin splits the single faults that are left better than the one proposed, by walking every path; and none is proposed that
    /// tells nothing.
    /// </summary>
    [Fact]
    public void The_first_proposal_halves_the_faults() =>
        Cases
            .Where(c => c.Graph.ToMend.All(m => m.Kind != MendKind.Loop))
            .Sample(
                c =>
                {
                    var brute = new EveryPath(c.Graph, c.Evidence);
                    foreach (var stretch in Report(c.Graph, c.Evidence).Stretches)
                    {
                        var alone = stretch.Links.Numbers().Where(l => brute.IsOnEveryPath(l, stretch.Bad)).ToList();
                        var faults = alone.Count > 0 ? alone : [.. stretch.Links.Numbers()];
                        List<int> supplies = [.. stretch.OpenSources.Numbers().Where(s => brute.PassesThrough(s, stretch.Bad))];
                        supplies = supplies.Count > 0 || faults.Count > 0 ? supplies : [.. stretch.OpenSources.Numbers()];
                        const int Supply = 2;
                        var all = faults.Sum(l => c.Graph.Weights[l]) + (Supply * supplies.Count);
                        int Uneven(int pin) =>
                            faults.Where(l => brute.IsOnEveryPath(l, pin)).Sum(l => c.Graph.Weights[l])
                                + (Supply * supplies.Count(s => brute.PassesThrough(s, pin)))
                                is var behind
                            && behind > 0
                            && behind < all
                                ? Math.Abs((2 * behind) - all)
                                : int.MaxValue;
                        var best = stretch.Untouched.Numbers().Select(Uneven).DefaultIfEmpty(int.MaxValue).Min();
                        Assert.Equal(best == int.MaxValue, stretch.Next.Count == 0);
                        Assert.All(stretch.Next, pin => Assert.NotEqual(int.MaxValue, Uneven(pin)));
                        if (stretch.Next.Count > 0)
                        {
                            Assert.Equal(best, Uneven(stretch.Next[0]));
                        }
                    }
                },
                iter: 2000
            );

    /// <summary>
    /// One link is broken in a wiring without loops, some pins are read as they would read: the broken link is always named, by what is
    /// said
    /// first; and what is said of several bad pins at once is exactly what lies on every path to each of them and is cleared by none.
    /// </summary>
    [Fact]
    public void The_true_single_fault_is_always_named() =>
        Gen.Select(Graphs.WithoutLoops(), Gen.Int[0, 1000], Gen.Bool.Array[10])
            .Sample(
                (graph, dice, measured) =>
                {
                    var brute = new EveryPath(graph, []);
                    var broken = dice % graph.Links.Count;
                    var evidence = Enumerable
                        .Range(0, graph.Pins.Count)
                        .Where(p => measured[p])
                        .ToDictionary(p => p, p => brute.IsOnEveryPath(broken, p) ? Read("0", "24 V ±5 %") : Read("24", "24 V ±5 %"));
                    var report = Report(graph, evidence);
                    if (evidence.Values.Any(e => e.Verdict.IsOut))
                    {
                        Assert.Contains(broken, report.Suspects.Numbers());
                        Assert.Contains(broken, (report.OneFault?.Links ?? Assert.Single(report.Stretches).Links).Numbers());
                    }

                    if (report.OneFault is { } one)
                    {
                        Assert.True(one.IsAll);
                        var bads = evidence.Where(e => e.Value.Verdict.IsOut).Select(e => e.Key).ToList();
                        var goods = evidence.Where(e => e.Value.Verdict.IsGood).Select(e => e.Key).ToList();
                        Assert.Equal(
                            Enumerable
                                .Range(0, graph.Links.Count)
                                .Where(l =>
                                    bads.TrueForAll(b => brute.IsOnEveryPath(l, b)) && !goods.Exists(g => brute.IsOnEveryPath(l, g))
                                ),
                            one.Links.Numbers().Order()
                        );
                    }
                },
                iter: 3000
            );

    /// <summary>Of probes that split nearly as well, the one with the least to move comes first.</summary>
    [Fact]
    public void Among_nearly_equal_probes_the_least_to_move_wins()
    {
        var chain = Graphs.Of(Enumerable.Range(0, 60).Select(i => (i, i + 1)), 0);
        var evidence = new Dictionary<int, PinEvidence> { [0] = Read("24", "24 V ±5 %"), [60] = Read("0", "24 V ±5 %") };
        var first = PathReport.Of(chain, evidence.ByPin(), _ => true).Stretches[0].Next;
        var easy = PathReport.Of(chain, evidence.ByPin(), _ => true, moves: p => p == first[1] ? 0 : 1).Stretches[0].Next;
        Assert.Equal(first[1], easy[0]);
        // Never at the cost of the split.
        Assert.NotEqual(1, PathReport.Of(chain, evidence.ByPin(), _ => true, moves: p => p == 1 ? 0 : 1).Stretches[0].Next[0].Value);
    }

    /// <summary>
    /// A pin that two branches feed goes dead by what both share, or by what follows the join; one branch alone could not do it.
    /// </summary>
    [Fact]
    public void A_branch_that_could_not_bring_the_pin_down_alone_is_not_accused()
    {
        var graph = Graphs.Of([(0, 1), (1, 2), (1, 3), (2, 4), (3, 4), (4, 5)], 0);
        var stretch = Assert.Single(Report(graph, new() { [0] = Read("24.1", "24 V ±5 %"), [5] = Read("0", "24 V ±5 %") }).Stretches);
        Assert.Equal([(0, 1), (4, 5)], stretch.Links.Select(graph.Ends));
        // Either branch tells nothing; what is before or behind both does.
        Assert.Equal([1, 4], stretch.Next.Numbers().Order());
    }

    [Fact]
    public void A_bad_source_accuses_the_supply()
    {
        var stretch = Assert.Single(Report(Graphs.Of([(0, 1)], 0), new() { [0] = Bad(0.5m), [1] = Bad(0.5m) }).Stretches);
        Assert.True(stretch.AccusesSupply);
        Assert.Equal(0, stretch.Bad.Value);
    }

    [Fact]
    public void A_bad_pin_under_a_bad_pin_is_no_new_fault_unless_worse()
    {
        var chain = Graphs.Of([(0, 1), (1, 2), (2, 3)], 0);
        var same = Report(
            chain,
            new()
            {
                [0] = Good,
                [1] = Bad(0.8m),
                [3] = Bad(0.77m),
            }
        );
        Assert.Equal([1], same.Stretches.Select(s => s.Bad).Numbers());
        Assert.Equal(3, Assert.Single(same.Explained).Bad.Value);
        var worse = Report(
            chain,
            new()
            {
                [0] = Good,
                [1] = Bad(0.8m),
                [3] = Bad(0.7m),
            }
        );
        Assert.Equal([1, 3], worse.Stretches.Select(s => s.Bad).Numbers());
        Assert.Equal([1], worse.Stretches[1].WorseThan.Numbers());
    }

    [Fact]
    public void A_join_clears_neither_branch_but_what_both_share()
    {
        // 0 feeds 1, which splits to 2 and 3, which join at 4.
        var report = Report(Graphs.Of([(0, 1), (1, 2), (1, 3), (2, 4), (3, 4)], 0), new() { [4] = Good });
        Assert.Equal([true, true, false, false, true], report.ClearedPins);
    }

    [Fact]
    public void A_good_pin_behind_a_bad_one_puts_the_bad_reading_in_doubt() =>
        Assert.Equal(
            2,
            Assert
                .Single(
                    Report(
                        Graphs.Of([(0, 1), (1, 2)], 0),
                        new()
                        {
                            [0] = Good,
                            [1] = Bad(0.5m),
                            [2] = Good,
                        }
                    ).Stretches
                )
                .Contradicted!.Value.Value
        );

    [Fact]
    public void Marginal_counts_as_good_and_is_flagged()
    {
        var report = Report(
            Graphs.Of([(0, 1), (1, 2)], 0),
            new()
            {
                [0] = Good,
                [1] = Marginal,
                [2] = Bad(0.5m),
            }
        );
        Assert.Equal([1], Assert.Single(report.Stretches).GoodEnds.Numbers());
        Assert.Equal([1], report.Marginal.Numbers());
    }

    /// <summary>
    /// One conductor, one voltage: 15 V at both ends is no further loss whatever the limits say; 15 V in and 10 V out is one.
    /// </summary>
    [Fact]
    public void Along_one_conductor_volts_are_compared_and_not_shares()
    {
        var chain = Graphs.Of([(0, 1), (1, 2), (2, 3)], 0);
        var same = Report(
            chain,
            new()
            {
                [0] = Read("24.1", "24 V ±5 %"),
                [1] = Read("15", "24 V ±5 %"),
                [3] = Read("14.9", "16..20 V"),
            }
        );
        Assert.Equal([1], same.Stretches.Select(s => s.Bad).Numbers());
        Assert.Equal([1], Assert.Single(same.Explained).By.Numbers());
        // By shares of each its own limit nothing would be lost here.
        var lost = Report(
            chain,
            new()
            {
                [0] = Read("24.1", "24 V ±5 %"),
                [1] = Read("15", "24 V ±5 %"),
                [3] = Read("10", "15.5..16.5 V"),
            }
        );
        Assert.Equal([1, 3], lost.Stretches.Select(s => s.Bad).Numbers());
        Assert.Equal([1], lost.Stretches[1].WorseThan.Numbers());
        // A sound contact loses up to 0.2 V, a wire 3 %; not against another black probe.
        Assert.Single(
            Report(
                chain,
                new()
                {
                    [0] = Read("24.1", "24 V ±5 %"),
                    [1] = Read("15", "24 V ±5 %"),
                    [3] = Read("14.56", "24 V ±5 %"),
                }
            ).Stretches
        );
        Assert.Equal(
            2,
            Report(
                chain,
                new()
                {
                    [0] = Read("24.1", "24 V ±5 %"),
                    [1] = Read("15", "24 V ±5 %"),
                    [3] = Read("14.5", "24 V ±1 %"),
                }
            ).Stretches.Count
        );
    }

    /// <summary>
    /// "≥ 12 V" at 15 V says nothing for the 24 V that feed it: the wire behind it is not accused, what lies before it is.
    /// </summary>
    [Fact]
    public void A_wide_limit_acquits_nobody()
    {
        var chain = Graphs.Of([(0, 1), (1, 2)], 0);
        var stretch = Assert.Single(
            Report(
                chain,
                new()
                {
                    [0] = Read("24.1", "24 V ±5 %"),
                    [1] = Read("15", ">= 12 V"),
                    [2] = Read("15", "24 V ±5 %"),
                }
            ).Stretches
        );
        Assert.Equal([0], stretch.GoodEnds.Numbers());
        Assert.Equal([0], stretch.Links.Numbers());
        // A sagging feeder is not in doubt for a consumer that is content with less; a dead one is.
        var sagging = Report(
            chain,
            new()
            {
                [0] = Read("24.1", "24 V ±5 %"),
                [1] = Read("21", "24 V ±5 %"),
                [2] = Read("20.9", ">= 18 V"),
            }
        );
        Assert.Null(Assert.Single(sagging.Stretches).Contradicted);
        Assert.Equal([0], sagging.Stretches[0].Links.Numbers());
        Assert.Equal(
            2,
            Assert
                .Single(
                    Report(
                        chain,
                        new()
                        {
                            [0] = Read("24.1", "24 V ±5 %"),
                            [1] = Read("0.1", "24 V ±5 %"),
                            [2] = Read("20.9", ">= 18 V"),
                        }
                    ).Stretches
                )
                .Contradicted!.Value.Value
        );
        // What was not measured is not within because of it either.
        var bands = new Dictionary<int, PinBand> { [1] = new(22.8m, 25.2m, Common) };
        Assert.False(
            PathReport
                .Of(chain, new Dictionary<int, PinEvidence> { [2] = Read("20.9", ">= 18 V") }.ByPin(), _ => true, bands.ByPin())
                .ClearedPins[1]
        );
        Assert.True(
            PathReport
                .Of(chain, new Dictionary<int, PinEvidence> { [2] = Read("23.5", ">= 18 V") }.ByPin(), _ => true, bands.ByPin())
                .ClearedPins[1]
        );
    }

    /// <summary>
    /// A regulated 5 V says that its input is alive, not that it is within; alive is enough to clear the way to what is dead.
    /// </summary>
    [Fact]
    public void Behind_a_conversion_a_good_reading_says_alive()
    {
        // 0 feeds 1, the input of a regulator to 2, and 3.
        var graph = Graphs.Of([(0, 1), (1, 2), (1, 3)], [(1, 2)], 0);
        var bands = new Dictionary<int, PinBand>
        {
            [0] = new(22.8m, 25.2m, Common),
            [1] = new(22.8m, 25.2m, Common),
            [2] = new(4.75m, 5.25m, Common),
            [3] = new(22.8m, 25.2m, Common),
        };
        var report = PathReport.Of(
            graph,
            new Dictionary<int, PinEvidence> { [2] = Read("5.02", "5 V ±5 %"), [3] = Read("0", "24 V ±5 %") }.ByPin(),
            _ => true,
            bands.ByPin()
        );
        Assert.False(report.ClearedPins[1]);
        Assert.Equal([(1, 3)], Assert.Single(report.Stretches).Links.Select(graph.Ends));
        var low = PathReport.Of(
            graph,
            new Dictionary<int, PinEvidence> { [2] = Read("5.02", "5 V ±5 %"), [3] = Read("20", "24 V ±5 %") }.ByPin(),
            _ => true,
            bands.ByPin()
        );
        Assert.Equal(2, Assert.Single(low.Stretches).Links.Count);
    }

    private static readonly PinAddress Common = Probe.At("p", "common");

    private static PinEvidence Read(string typed, string limit)
    {
        var (value, band) = (ReadingNotation.Read(typed, MeterMode.DcVolts).Choices[0], LimitNotation.ReadOne(limit).Limit);
        return PinEvidence.Of(value, band, DefaultTolerance.Usual, Judge.Verdict(value, band, DefaultTolerance.Usual), Common);
    }

    private static PathReport Report(FeedGraph graph, Dictionary<int, PinEvidence> evidence) =>
        PathReport.Of(graph, evidence.ByPin(), _ => true);

    private static PinEvidence Bad(decimal share) => new(new Verdict(VerdictKind.Low, "", ""), share, 0.05m);

    /// <summary>The same answers by listing every path without a repeated pin.</summary>
    private sealed class EveryPath(FeedGraph graph, Dictionary<int, PinEvidence> evidence)
    {
        private bool IsBad(int pin) => evidence.TryGetValue(pin, out var e) && e.Verdict.IsOut;

        private bool ReadsGood(int pin) => evidence.TryGetValue(pin, out var e) && e.Verdict.IsGood;

        private bool Enters(int pin) => graph.IsSource[pin] || graph.Links.All(l => l.To != pin);

        /// <summary>All ways back from a pin, as lists of links, ending where <paramref name="stop"/> says.</summary>
        private IEnumerable<List<int>> Back(int pin, Func<int, bool> stop, HashSet<int> on)
        {
            foreach (
                var link in Enumerable.Range(0, graph.Links.Count).Where(l => graph.Links[l].To == pin && !on.Contains(graph.Links[l].From))
            )
            {
                var from = graph.Links[link].From;
                if (stop(from))
                {
                    yield return [link];
                }

                if (!Opaque(from, stop))
                {
                    foreach (var rest in Back(from, stop, [.. on, from]))
                    {
                        yield return [link, .. rest];
                    }
                }
            }
        }

        /// <summary>An unmeasured source ends a path, yet another path may run on through it.</summary>
        private bool Opaque(int pin, Func<int, bool> stop) => !_whole && stop(pin) && (evidence.ContainsKey(pin) || IsCleared(pin));

        private bool _whole;

        private List<List<int>> ToSources(int pin)
        {
            _whole = true;
            var all = Back(pin, Enters, [pin]).ToList();
            _whole = false;
            if (Enters(pin))
            {
                all.Add([]);
            }

            return all;
        }

        private IEnumerable<int> GoodReadings => evidence.Keys.Where(ReadsGood);

        public bool LinkCleared(int link) =>
            GoodReadings.Any(g => ToSources(g) is { Count: > 0 } paths && paths.All(p => p.Contains(link)));

        public bool IsCleared(int pin)
        {
            if (_clear.TryGetValue(pin, out var known))
            {
                return known;
            }

            return _clear[pin] =
                !IsBad(pin)
                && GoodReadings.Any(g =>
                    g == pin || (ToSources(g) is { Count: > 0 } paths && paths.All(p => p.Any(l => graph.Links[l].From == pin)))
                );
        }

        private readonly Dictionary<int, bool> _clear = [];

        private List<List<int>> Traces(int bad) => [.. Back(bad, p => IsBad(p) || IsCleared(p) || Enters(p), [bad])];

        private int Start(List<int> trace) => graph.Links[trace[^1]].From;

        public IEnumerable<int> GoodEnds(int bad) => Traces(bad).Select(Start).Where(IsCleared).Distinct();

        public IEnumerable<int> Starts() =>
            evidence
                .Keys.Where(IsBad)
                .Where(bad =>
                {
                    var starts = Traces(bad).Select(Start).Distinct().ToList();
                    var bads = starts.Where(IsBad).ToList();
                    return bads.Count == 0 || starts.Count > bads.Count || graph.IsSource[bad] || IsWorse(bad, bads);
                });

        private bool IsWorse(int bad, List<int> feeders) =>
            feeders.Count > 0 && feeders.All(f => evidence[bad].Share < evidence[f].Share - evidence[bad].HalfBand);

        public IEnumerable<int> Suspects(int bad)
        {
            var traces = Traces(bad);
            var worse = IsWorse(bad, [.. traces.Select(Start).Where(IsBad).Distinct()]);
            return traces.Where(t => worse || !IsBad(Start(t))).SelectMany(t => t).Where(l => !LinkCleared(l)).Distinct();
        }

        public bool PassesThrough(int source, int pin) =>
            source == pin || (ToSources(pin) is { Count: > 0 } paths && paths.TrueForAll(p => p.Any(l => graph.Links[l].From == source)));

        public bool IsOnEveryPath(int link, int pin) => ToSources(pin) is { Count: > 0 } paths && paths.TrueForAll(p => p.Contains(link));
    }
}
