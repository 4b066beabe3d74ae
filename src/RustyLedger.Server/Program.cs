using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;

// Whatever stands against a start or a command is told in a line or two, with what to do, and never as a stack of calls.
try
{
    if (args is [var name, ..] && KeepingCommands.Names.Contains(name))
    {
        var given = args[1..];
        var file = given is [{ } first, ..] && !first.StartsWith('-') ? first : "";
        var options = LedgerHost.OptionsOf(file.Length > 0 ? given[1..] : given);
        return await KeepingCommands.Run(name, file, options, TimeProvider.System, Console.Out);
    }

    if (args is [CircuitCommand.Name, .. var files])
    {
        return CircuitCommand.Run(files.FirstOrDefault("")!, Console.Out);
    }

    NativeMemory.GiveBackWhatIsFree();
    using var memory = new MemoryKeeper(TimeProvider.System);
    await LedgerHost.Build(args).RunAsync();
    return 0;
}
catch (OperationCanceledException)
{
    // Ended by whoever started it, before it was done; the code is that of a shell for Ctrl C.
    return 130;
}
catch (LedgerOptionsException wrong)
{
    Console.Error.WriteLine($"ledger: {wrong.Message}");
    return 2;
}
// Tools of Entity Framework Core build the host and abort it themselves.
catch (Exception failure) when (failure is not HostAbortedException && StartFailure.Of(failure, args) is { } said)
{
    Console.Error.WriteLine($"ledger: {said.Message}");
    return said.Code;
}

public partial class Program;
