using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace RustyLedger.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class WireNumbers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Does",
                table: "Parts",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Number",
                table: "Links",
                type: "TEXT",
                nullable: false,
                defaultValue: "");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Does",
                table: "Parts");

            migrationBuilder.DropColumn(
                name: "Number",
                table: "Links");
        }
    }
}
