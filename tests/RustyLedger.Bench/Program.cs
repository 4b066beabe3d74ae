using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Running;

// A short job tells orders of magnitude in a minute; --long measures properly.
BenchmarkSwitcher.FromAssembly(typeof(Program).Assembly).Run(
    args is [] ? ["--filter", "*", "--job", "short", "--memory"] : args,
    DefaultConfig.Instance.WithArtifactsPath(Path.Combine(Path.GetTempPath(), "ledger-bench")));
