var builder = WebApplication.CreateBuilder(args);
builder.Services.AddOpenApi("v1");
var app = builder.Build();
app.Run();

public partial class Program;
