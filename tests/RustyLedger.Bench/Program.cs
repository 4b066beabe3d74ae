using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Running;
using RustyLedger.Bench;

// The record is measured over HTTP against the published server, in percentiles; Core alone by BenchmarkDotNet.
if (args is [] or ["record"])
{
    await RecordBench.Run();
}

if (args is [] or ["bundle"])
{
    await BundleBench.Run();
}

if (args is ["probes"])
{
    ProbeBench.SayHowNear();
}

if (args is [] or ["circuits"])
{
    CircuitBench.Run();
}

if (args is [] or ["reason"])
{
    ReasonBench.Run();
    ReasonBench.RunLarge();
}

if (args is ["technicians", .. var which])
{
    TechnicianBench.Run(which);
}

if (args is ["soak", ..])
{
    await SoakBench.Run(args.ElementAtOrDefault(1), args.ElementAtOrDefault(2));
}

if (args is not (["record"] or ["bundle"] or ["probes"] or ["circuits"] or ["reason"] or ["soak", ..] or ["technicians", ..]))
{
    ArriveBench.SayHowNear();
    ProbeBench.SayHowNear();
    // A short job tells orders of magnitude in a minute; --long measures properly.
    BenchmarkSwitcher
        .FromAssembly(typeof(SoakBench).Assembly)
        .Run(
            args is [] ? ["--filter", "*", "--job", "short", "--memory"] : args,
            DefaultConfig.Instance.WithArtifactsPath(Path.Combine(Path.GetTempPath(), "ledger-bench"))
        );
}
