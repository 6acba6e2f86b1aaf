# frozen_string_literal: true

# What is done with timers whose moment has come, and with those that lead to nothing any more.
RSpec.describe Yenvo::Engine::Firing do
  include TimerWords

  let(:noon) { Time.utc(2026, 12, 6, 12) }

  def timers = db[:timers].order(:id).select(:id, :due_at, :held_due, :purpose).all

  describe "one turn" do
    it "fires in the order of the moments, over all rules and purposes, and marks what is more than a minute late" do
      rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"), task("Date"))
      rule(quiet("contact", days: 7, at: "09:00"), task("Quiet"))
      wait = {"action" => "wait", "for" => {"count" => 288, "unit" => "hours", "from" => "now", "day_off" => "stays"}}
      rule({"when" => "record_made"}, wait, task("Waited"))
      make("deal", "launch_date" => "2026-12-10")
      work
      work(at: noon + 1)
      expect(made.map { |line| line.split.first }).to eq(%w[Quiet Date Waited])
      expect(fired.map { |detail| detail["late"].nil? }).to eq([false, false, true])
    end

    it "says nothing of lateness, and fires as of its own moment, within a minute of it" do
      rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"))
      make("deal", "launch_date" => "2026-12-10")
      work
      work(at: Time.utc(2026, 12, 5, 8, 0, 59))
      expect(fired.map { |detail| detail["late"] }).to eq([nil])
      expect(db[:journal].where(what: "timer_fired").get(:at)).to eq(Time.utc(2026, 12, 5, 8))
    end

    it "looks at no more than it may, and goes on in the next turn" do
      rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"))
      5.times { make("deal", "launch_date" => "2026-12-10") }
      work
      firing = described_class.new(root, Yenvo::Engine::Turn.new(root, log: SemanticLogger["spec"]))
      expect(3.times.map { firing.take(limit: 2, now: noon) }).to eq([2, 2, 1])
      expect(firing.take(limit: 2, now: noon)).to eq(0)
      expect(fired.size).to eq(5)
    end

    it "lets timers go of tasks that are over and of records that are gone, and fires nothing for them" do
      rule(quiet(days: 2, at: "09:00", task: true), task("Quiet"))
      deal, other = 2.times.map { make("deal")["id"] }
      done, left = [deal, other].map { |id| root.tasks.make({"title" => "Call", "record_id" => id}, cause:)[:id] }
      work
      db[:tasks].where(id: done).update(state: "done", open: false, done_at: Database::NOW)
      db[:records].where(id: other).delete
      work(at: noon)
      expect([fired, db[:timers].exclude(due_at: nil).count, left > done]).to eq([[], 0, true])
    end
  end

  describe "publishing, pausing, resuming" do
    it "builds timers for the records there are and fires for nothing that is past, unless that is chosen" do
      make("deal", "title" => "Past", "launch_date" => "2026-11-20")
      make("deal", "title" => "Ahead", "launch_date" => "2026-12-20")
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00"))
      work
      expect(dues).to eq(["15 Dec 08:00"])
      expect(made).to be_empty
      body = root.rules.body(rule[:version_id])
      root.rules.publish(rule[:id], body, cause: cause("maren"), past: "fire")
      work
      expect(made).to eq(["Now 24 Nov 12:00"])
      expect(dues).to eq(["15 Dec 08:00"])
    end

    it "builds them bit by bit, with progress, and takes those of the version before with it" do
      ids = Array.new(3) { |i| make("deal", "launch_date" => "2026-12-1#{i}")["id"] }
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00"))
      stub_const("Yenvo::Engine::BuildingTimers::BIT", 2)
      jobs = Yenvo::Engine::LongWork.new(root)
      jobs.take(now: Database::NOW)
      expect(root.jobs.latest(rule[:id], what: "timers").slice(:state, :looked_at, :total)).to eq(
        {state: "running", looked_at: 2, total: 3}
      )
      jobs.take(now: Database::NOW)
      expect(root.jobs.latest(rule[:id], what: "timers")[:state]).to eq("done")
      root.rules.publish(
        rule[:id], root.rules.body(rule[:version_id])
          .with(
            trigger: date_timer(2, "days", "launch_date", at: "08:00"),
            only_if: all_of(a_condition("title", "is", "Sallow"))
          ),
        cause: cause("maren")
      )
      change(ids[0], {"title" => "Sallow"})
      work
      expect(dues).to eq(["8 Dec 08:00"])
    end

    it "a timer whose moment came before the next version was published fires as the version that set it" do
      make("deal", "launch_date" => "2026-12-14")
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00"), task("First"))
      work
      late = Time.utc(2026, 12, 9, 9)
      root.rules.publish(
        rule[:id], root.rules.body(rule[:version_id])
          .with(
            branches: [
              Yenvo::Core::Branch.new(conditions: Yenvo::Core::Group.always, actions: [a_task(title: "Second")])
            ]
          ),
        cause: cause("maren", at: late)
      )
      pass(from: late + 1, to: [2026, 12, 20])
      expect(made).to eq(["First 9 Dec 09:00"])
    end

    it "a timer whose moment comes while those of the next version are being built is not lost" do
      make("deal", "launch_date" => "2026-12-14")
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00"), task("First"))
      work
      root.rules.publish(
        rule[:id], root.rules.body(rule[:version_id])
          .with(
            branches: [
              Yenvo::Core::Branch.new(conditions: Yenvo::Core::Group.always, actions: [a_task(title: "Second")])
            ]
          ),
        cause: cause("maren", at: Time.utc(2026, 12, 9, 7))
      )
      firing = Yenvo::Engine::Firing.new(root, Yenvo::Engine::Turn.new(root, log: SemanticLogger["spec"]))
      3.times { firing.take(limit: 10, now: Time.utc(2026, 12, 9, 8, 0, 1)) }
      expect(made).to eq(["Second 9 Dec 08:00"])
      work(at: Time.utc(2026, 12, 9, 9))
      expect(made.size).to eq(1)
    end

    it "says why a timer that fired did nothing, and only of its own rule" do
      rule =
        rule(
          date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"),
          only_if: {"all" => [{"field" => "boat_owner.country", "test" => "is_filled_in"}]}
        )
      rule(date_timer(1, "days", "survey_date", at: "08:00"), task("Other"), name: "Other")
      deal = make("deal", "launch_date" => "2026-12-10")["id"]
      pass(to: [2026, 12, 6])
      skips =
        Yenvo::Engine::WhyNot.new(root).skips(
          root.journal.watched(record: deal).select { |entry| entry[:what] == "timer_fired" }
        )
      expect(skips.map { |skip| [skip.rule.id, skip.plan.why] }).to eq(
        [[rule[:id], "Owner of the boat · Country is empty"]]
      )
    end

    it "keeps timers while paused, moves them, and asks about those that came due meanwhile" do
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00"))
      moved = make("deal", "launch_date" => "2026-12-10")["id"]
      make("deal", "title" => "Sallow", "launch_date" => "2026-12-11")
      work
      root.rules.pause(rule[:id], cause: cause("maren"))
      change(moved, {"launch_date" => "2026-12-20"})
      pass(to: [2026, 12, 9])
      expect(made).to be_empty
      expect(root.timers.held(rule[:id], now: Time.utc(2026, 12, 9))).to eq(1)
      root.rules.resume(rule[:id], late: true, cause: cause("maren", at: Time.utc(2026, 12, 9)))
      pass(to: [2026, 12, 20])
      expect(made).to eq(["Now 9 Dec 00:00", "Now 15 Dec 08:00"])
      expect(fired.map { |detail| detail["late"].nil? }).to eq([false, true])
    end

    it "drops those that came due meanwhile when that is chosen" do
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00"))
      deal = make("deal", "launch_date" => "2026-12-10")["id"]
      work
      root.rules.pause(rule[:id], cause: cause("maren"))
      pass(to: [2026, 12, 9])
      root.rules.resume(rule[:id], late: false, cause: cause("maren", at: Time.utc(2026, 12, 9)))
      change(deal, {"value" => 7}, at: Time.utc(2026, 12, 9))
      pass(to: [2026, 12, 20])
      expect(made).to be_empty
    end
  end

  describe "corners" do
    it "moves with a date that was moved while no worker ran, and fires for the new moment alone" do
      rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"))
      deal = make("deal", "launch_date" => "2026-12-10")["id"]
      work
      change(deal, {"launch_date" => "2026-12-20"}, at: Time.utc(2026, 12, 6))
      work(at: Time.utc(2026, 12, 7))
      expect(made).to be_empty
      pass(from: Time.utc(2026, 12, 7), to: [2027, 1, 1])
      expect(made).to eq(["Now 15 Dec 08:00"])
    end

    it "does not fire again after the clock was set back" do
      rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"))
      rule(quiet("contact", at: "09:00"), task("Quiet"))
      deal = make("deal", "launch_date" => "2026-12-10")["id"]
      pass(to: [2026, 12, 6])
      change(deal, {"value" => 3}, at: Time.utc(2026, 12, 1))
      pass(from: Time.utc(2026, 12, 1), to: [2026, 12, 8])
      expect(made).to eq(["Quiet 1 Dec 09:00", "Now 5 Dec 08:00"])
    end

    it "sets timers aside whose version does not fit the set-up any more, and fires them late when it does again" do
      rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"), task("Now {{ record.deposit }}"))
      make("deal", "launch_date" => "2026-12-10")
      work
      db[:fields].where(kind: "deal", key: "deposit").first
      changes = Yenvo::Store::SetupChanges.new(root)
      changes.remove_field("deal", "deposit", cause: cause("maren"), anyway: true)
      work(at: Time.utc(2026, 12, 6))
      expect([made, db[:timers].select_map(:due_at), db[:timers].get(:held_due)]).to eq(
        [[], [nil], Time.utc(2026, 12, 5, 8)]
      )
      changes.bring_back("deal", "deposit", cause: cause("maren", at: Time.utc(2026, 12, 6)))
      2.times { work(at: Time.utc(2026, 12, 6)) }
      expect(made.size).to eq(1)
    end

    it "a timer that cannot fire holds up no other, and is tried again", :committed do
      broken = rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"), task("Broken"), name: "Broken")
      rule(date_timer(5, "days", "survey_date", at: "08:00", day_off: "stays"), task("Whole"), name: "Whole")
      make("deal", "launch_date" => "2026-12-10", "survey_date" => "2026-12-11")
      work
      calls = 0
      allow_any_instance_of(Yenvo::Engine::Turn).to receive(:settle).and_wrap_original do |original, entries, now|
        raise "It fails now" if entries.any? { |entry| entry[:detail].to_s.include?("\"Broken\"") } && (calls += 1) < 8

        original.call(entries, now)
      end
      worker =
        Yenvo::Engine::Worker.new(
          root, clock: Database::FixedClock.new(Time.utc(2026, 12, 6, 9)), log: SemanticLogger["spec"]
        )
      6.times { worker.turn }
      expect(made).to eq(["Whole 6 Dec 09:00"])
      later =
        Yenvo::Engine::Worker.new(
          root, clock: Database::FixedClock.new(Time.utc(2026, 12, 6, 9, 30)), log: SemanticLogger["spec"]
        )
      4.times { later.turn }
      expect(made.last).to eq("Broken 6 Dec 09:30")
      expect(db[:runs].where(rule_id: broken[:id]).count).to eq(1)
    end
  end
end
