using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace RustyLedger.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Record : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // SQLite drops a column by itself since 3.35; EF would rebuild the table outside of the transaction.
            migrationBuilder.Sql("ALTER TABLE Machines DROP COLUMN Find");

            migrationBuilder.AddColumn<string>(
                name: "Customer",
                table: "Machines",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            // A cause was one of ten; now it is the code of one from the shop's list.
            migrationBuilder.Sql("UPDATE Faults SET Cause = lower(substr(Cause, 1, 1)) || substr(Cause, 2) WHERE Cause IS NOT NULL");

            migrationBuilder.AddColumn<string>(
                name: "Agreed",
                table: "Visits",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<long>(
                name: "AgreedAt",
                table: "Visits",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Bring",
                table: "Visits",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "LabourMinutes",
                table: "Visits",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Left",
                table: "Visits",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "TravelMinutes",
                table: "Visits",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Warranty",
                table: "Visits",
                type: "TEXT",
                nullable: false,
                defaultValue: "NotAsked");

            migrationBuilder.AddColumn<string>(
                name: "Deviation",
                table: "Faults",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Held",
                table: "Faults",
                type: "TEXT",
                nullable: false,
                defaultValue: "NotKnown");

            migrationBuilder.AddColumn<int>(
                name: "Minutes",
                table: "Faults",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Parts",
                table: "Faults",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "PreviousId",
                table: "Faults",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Warranty",
                table: "Faults",
                type: "TEXT",
                nullable: false,
                defaultValue: "NotAsked");

            migrationBuilder.CreateTable(
                name: "Causes",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    Ordinal = table.Column<int>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Causes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Notes",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<string>(type: "TEXT", nullable: false),
                    VisitId = table.Column<string>(type: "TEXT", nullable: true),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    PersonId = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Notes", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Notes_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Photographs",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<string>(type: "TEXT", nullable: false),
                    VisitId = table.Column<string>(type: "TEXT", nullable: true),
                    PositionId = table.Column<string>(type: "TEXT", nullable: true),
                    SnapshotId = table.Column<string>(type: "TEXT", nullable: true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Caption = table.Column<string>(type: "TEXT", nullable: false),
                    TakenAt = table.Column<long>(type: "INTEGER", nullable: false),
                    PersonId = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    Format = table.Column<string>(type: "TEXT", nullable: false),
                    Width = table.Column<int>(type: "INTEGER", nullable: false),
                    Height = table.Column<int>(type: "INTEGER", nullable: false),
                    Bytes = table.Column<long>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Photographs", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Photographs_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Register",
                columns: table => new
                {
                    MachineId = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    IsWorn = table.Column<bool>(type: "INTEGER", nullable: false),
                    SortTag = table.Column<string>(type: "TEXT", nullable: false),
                    OpenFaults = table.Column<int>(type: "INTEGER", nullable: false),
                    OpenVisitId = table.Column<string>(type: "TEXT", nullable: true),
                    WaitsForPart = table.Column<bool>(type: "INTEGER", nullable: false),
                    NeedsCare = table.Column<bool>(type: "INTEGER", nullable: false),
                    TouchedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Register", x => x.MachineId);
                    table.ForeignKey(
                        name: "FK_Register_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Settings",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    OwnerId = table.Column<string>(type: "TEXT", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Unit = table.Column<string>(type: "TEXT", nullable: false),
                    Min = table.Column<decimal>(type: "TEXT", nullable: true),
                    Max = table.Column<decimal>(type: "TEXT", nullable: true),
                    Choices = table.Column<string>(type: "TEXT", nullable: false),
                    Default = table.Column<string>(type: "TEXT", nullable: false),
                    Firmware = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Ordinal = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Settings", x => new { x.OwnerId, x.Id });
                    table.ForeignKey(
                        name: "FK_Settings_BoardTypes_OwnerId",
                        column: x => x.OwnerId,
                        principalTable: "BoardTypes",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Snapshots",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<string>(type: "TEXT", nullable: false),
                    FittedBoardId = table.Column<string>(type: "TEXT", nullable: false),
                    VisitId = table.Column<string>(type: "TEXT", nullable: true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    TakenAt = table.Column<long>(type: "INTEGER", nullable: false),
                    PersonId = table.Column<string>(type: "TEXT", nullable: false),
                    Firmware = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Snapshots", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Snapshots_FittedBoards_MachineId_FittedBoardId",
                        columns: x => new { x.MachineId, x.FittedBoardId },
                        principalTable: "FittedBoards",
                        principalColumns: new[] { "OwnerId", "Id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Snapshots_People_PersonId",
                        column: x => x.PersonId,
                        principalTable: "People",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "SupportCalls",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    VisitId = table.Column<string>(type: "TEXT", nullable: false),
                    PersonId = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    CaseNumber = table.Column<string>(type: "TEXT", nullable: false),
                    Said = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SupportCalls", x => x.Id);
                    table.ForeignKey(
                        name: "FK_SupportCalls_Visits_VisitId",
                        column: x => x.VisitId,
                        principalTable: "Visits",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Places",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    PhotographId = table.Column<string>(type: "TEXT", nullable: false),
                    X = table.Column<double>(type: "REAL", nullable: false),
                    Y = table.Column<double>(type: "REAL", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    PositionId = table.Column<string>(type: "TEXT", nullable: true),
                    PinId = table.Column<string>(type: "TEXT", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Places", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Places_Photographs_PhotographId",
                        column: x => x.PhotographId,
                        principalTable: "Photographs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "SettingValues",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    OwnerId = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    RetiredAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Ordinal = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SettingValues", x => new { x.OwnerId, x.Id });
                    table.ForeignKey(
                        name: "FK_SettingValues_Snapshots_OwnerId",
                        column: x => x.OwnerId,
                        principalTable: "Snapshots",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Visits_EndedAt",
                table: "Visits",
                column: "EndedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Readings_RedHolder_RedPin",
                table: "Readings",
                columns: new[] { "RedHolder", "RedPin" });

            migrationBuilder.CreateIndex(
                name: "IX_Readings_Target",
                table: "Readings",
                column: "Target");

            migrationBuilder.CreateIndex(
                name: "IX_Faults_ClosedAt",
                table: "Faults",
                column: "ClosedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Notes_MachineId_At",
                table: "Notes",
                columns: new[] { "MachineId", "At" });

            migrationBuilder.CreateIndex(
                name: "IX_Photographs_Hash",
                table: "Photographs",
                column: "Hash");

            migrationBuilder.CreateIndex(
                name: "IX_Photographs_MachineId_TakenAt",
                table: "Photographs",
                columns: new[] { "MachineId", "TakenAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Places_PhotographId",
                table: "Places",
                column: "PhotographId");

            migrationBuilder.CreateIndex(
                name: "IX_Snapshots_MachineId_FittedBoardId",
                table: "Snapshots",
                columns: new[] { "MachineId", "FittedBoardId" });

            migrationBuilder.CreateIndex(
                name: "IX_Snapshots_MachineId_TakenAt",
                table: "Snapshots",
                columns: new[] { "MachineId", "TakenAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Snapshots_PersonId",
                table: "Snapshots",
                column: "PersonId");

            migrationBuilder.CreateIndex(
                name: "IX_SupportCalls_VisitId",
                table: "SupportCalls",
                column: "VisitId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Causes");

            migrationBuilder.DropTable(
                name: "Notes");

            migrationBuilder.DropTable(
                name: "Places");

            migrationBuilder.DropTable(
                name: "Register");

            migrationBuilder.DropTable(
                name: "SettingValues");

            migrationBuilder.DropTable(
                name: "Settings");

            migrationBuilder.DropTable(
                name: "SupportCalls");

            migrationBuilder.DropTable(
                name: "Photographs");

            migrationBuilder.DropTable(
                name: "Snapshots");

            migrationBuilder.DropIndex(
                name: "IX_Visits_EndedAt",
                table: "Visits");

            migrationBuilder.DropIndex(
                name: "IX_Readings_RedHolder_RedPin",
                table: "Readings");

            migrationBuilder.DropIndex(
                name: "IX_Readings_Target",
                table: "Readings");

            migrationBuilder.DropIndex(
                name: "IX_Faults_ClosedAt",
                table: "Faults");

            migrationBuilder.DropColumn(
                name: "Agreed",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "AgreedAt",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "Bring",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "LabourMinutes",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "Left",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "TravelMinutes",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "Warranty",
                table: "Visits");

            migrationBuilder.DropColumn(
                name: "Deviation",
                table: "Faults");

            migrationBuilder.DropColumn(
                name: "Held",
                table: "Faults");

            migrationBuilder.DropColumn(
                name: "Minutes",
                table: "Faults");

            migrationBuilder.DropColumn(
                name: "Parts",
                table: "Faults");

            migrationBuilder.DropColumn(
                name: "PreviousId",
                table: "Faults");

            migrationBuilder.DropColumn(
                name: "Warranty",
                table: "Faults");

            migrationBuilder.Sql("ALTER TABLE Machines DROP COLUMN Customer");

            migrationBuilder.AddColumn<string>(
                name: "Find",
                table: "Machines",
                type: "TEXT",
                nullable: false,
                defaultValue: "");
        }
    }
}
