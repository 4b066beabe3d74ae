using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace RustyLedger.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class SafeStates : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Across",
                table: "TemporaryLinks",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Standing",
                table: "TemporaryLinks",
                type: "TEXT",
                nullable: false,
                defaultValue: "None");

            migrationBuilder.AddColumn<decimal>(
                name: "AcImmersed",
                table: "Shop",
                type: "TEXT",
                nullable: false,
                defaultValue: 12m);

            migrationBuilder.AddColumn<decimal>(
                name: "DcImmersed",
                table: "Shop",
                type: "TEXT",
                nullable: false,
                defaultValue: 30m);

            migrationBuilder.AddColumn<decimal>(
                name: "DeadAc",
                table: "Shop",
                type: "TEXT",
                nullable: false,
                defaultValue: 5m);

            migrationBuilder.AddColumn<decimal>(
                name: "DeadDc",
                table: "Shop",
                type: "TEXT",
                nullable: false,
                defaultValue: 1m);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Across",
                table: "TemporaryLinks");

            migrationBuilder.DropColumn(
                name: "Standing",
                table: "TemporaryLinks");

            migrationBuilder.DropColumn(
                name: "AcImmersed",
                table: "Shop");

            migrationBuilder.DropColumn(
                name: "DcImmersed",
                table: "Shop");

            migrationBuilder.DropColumn(
                name: "DeadAc",
                table: "Shop");

            migrationBuilder.DropColumn(
                name: "DeadDc",
                table: "Shop");
        }
    }
}
