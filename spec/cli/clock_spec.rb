# frozen_string_literal: true

RSpec.describe "bin/yenvo clock", :committed do
  include Processes

  # @return [Array(String, Integer)] what was said, and the exit code
  def clock(*arguments)
    env = {"DATABASE_URL" => Database.url, "YENVO_CLOCK" => "2026-11-24T12:00:00Z"}
    ForkServer.run("clock", *arguments, env:).then { |out, err, code| [out + err, code] }
  end

  # Only who may move the clock signs in with the password of the demo, so that it is as before for all that follows.
  after do
    db[:moved_clock].delete
    root.moved_clock.allow
  end

  it "moves the clock forward with everything firing in order, each at its moment, while workers run beside it" do
    publish(
      "trigger" => {
        "when" => "date_timer",
        "date" => {
          "count" => 2, "unit" => "days", "direction" => "before", "from" => "launch_date", "at" => "08:00",
          "day_off" => "stays"
        }
      },
      "branches" => [
        {
          "do" => [
            {
              "action" => "task", "title" => "Prepare", "assign" => {"to" => "person", "person" => "wen"},
              "due" => {"count" => 1, "unit" => "days", "at" => "09:00", "day_off" => "stays"}
            },
            {
              "action" => "ladder",
              "steps" => [
                {
                  "after" => {"count" => 1, "unit" => "days", "from" => "due", "at" => "09:00", "day_off" => "stays"},
                  "do" => "raise"
                }
              ]
            }
          ]
        }
      ]
    )
    make("deal", "launch_date" => "2026-12-10")
    work
    2.times { start_worker(Database.url, YENVO_CLOCK: "2026-11-24T12:00:00Z") }
    said, code = clock("--days", "30")
    expect(code).to eq(0)
    expect(said.lines.map { |line| line[/20\d\d \d\d:\d\d  .*/] }.compact).to eq(
      ["2026 08:00  1 task made, 1 timer fired", "2026 09:00  1 task late", "2026 09:00  1 timer fired"]
    )
    expect(
      db[:journal].where(what: %w[timer_fired task_made task_late]).order(:id)
        .map { |row| [row[:what], row[:at].strftime("%d %H:%M:%S")] }
    ).to eq(
      [
        ["timer_fired", "08 08:00:00"], ["task_made", "08 08:00:00"], ["task_late", "09 09:00:00"],
        ["timer_fired", "10 09:00:00"]
      ]
    )
    expect(db[:tasks].get(:priority)).to eq(2)
    expect(clock.first).to match(/stands at Thu 24 Dec 2026 (11:59|12:00), 30 days ahead/)
  ensure
    stop_all
  end

  it "says what is wrong: no date, not forward, and that this is not the demo" do
    expect(clock("--to", "soon")[0]).to include("is no date; write one such as 2026-12-31")
    expect(clock("--to", "2026-11-01")[0]).to include("The clock only goes forward")
    db[:moved_clock].delete
    expect(clock("--days", "1")).to eq(["The clock can be moved in the demo alone; this database is none.\n", 1])
  end
end
