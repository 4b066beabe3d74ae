using RustyLedger.Core.Circuits;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Keeping;

/// <summary><c>./ledger circuit FILE.cir</c>: the volts of every node, as CSV with the names as given.</summary>
internal static class CircuitCommand
{
    public const string Name = "circuit";

    /// <exception cref="LedgerOptionsException">There is no such file, it is not understood, or the circuit has no operating
    /// point.</exception>
    public static int Run(string file, TextWriter say)
    {
        if (!File.Exists(file))
        {
            throw new LedgerOptionsException(file.Length == 0 ? "circuit needs a file." : $"There is no file {file}.");
        }

        OperatingPoint point;
        try
        {
            point = OperatingPoint.Of(SpiceReader.Read(File.ReadAllText(file)));
        }
        catch (NotationException wrong)
        {
            throw new LedgerOptionsException($"{Path.GetFileName(file)}: {wrong.Message}");
        }

        if (point.Problem is { } problem)
        {
            throw new LedgerOptionsException(problem.Words);
        }

        say.Write(PointTable.Csv(point));
        return 0;
    }
}
