using RustyLedger.Server.Hosting;

try
{
    LedgerHost.Build(args).Run();
    return 0;
}
catch (LedgerOptionsException wrong)
{
    Console.Error.WriteLine($"ledger: {wrong.Message}");
    return 2;
}

public partial class Program;
