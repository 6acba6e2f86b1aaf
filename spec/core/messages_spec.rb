# frozen_string_literal: true

# What leaves the house: mails, boards and calls as rules plan them.
RSpec.describe "Messages of rules" do
  let(:deal) { a_schema.kind("deal") }
  let(:now) { Builders::NOON }

  def problems_of(*actions, kind: "deal")
    rule = a_rule(kind:, branches: [a_branch(run: actions)])
    Yenvo::Core::Checks.look(rule, a_schema)[0].map { |one| "#{one.path.join(".")} #{one.text}" }
  end

  def mail(to: [{"to" => "email", "field" => "boat_owner.email"}], **more)
    more = {subject: "Your {{ record.title }}", text: "Dear {{ record.boat_owner }}", **more}
    doing("mail", receivers: to, **more)
  end

  # @return [Array] the steps that an action plans
  def plan(action, image: {}, linked: {3 => {"id" => 3, "title" => "Aldo Ferrant", "email" => "aldo@sea.example"}},
    schema: a_schema, detail: nil, who: "hollie")
    image = {"id" => 7, "title" => "Quiet Hour", "owner" => "hollie", "boat_owner" => 3, "value" => 120, **image}
    event = Yenvo::Core::Event.look("deal", image, at: now, who:, what: "record_changed", detail:)
    problems = []
    bound = Yenvo::Core::Actions.bind(action, schema.kind("deal"), schema, problems:)
    raise problems.inspect unless bound

    bound.plan(Yenvo::Core::Facts.new(event, linked), now:, rule_name: "Tell")
  end

  describe "a mail" do
    it "goes to e-mail fields, persons, teams and fixed addresses, to each once" do
      to = [
        {"to" => "email", "field" => "boat_owner.email"}, {"to" => "owner"}, {"to" => "person", "person" => "hollie"},
        {"to" => "team", "team" => "front_office"}, {"to" => "address", "address" => "office@yard.example"}
      ]
      cc = [{"to" => "person", "person" => "maren"}, {"to" => "address", "address" => "Aldo@sea.example"}]
      step, = plan(mail(to:, cc:, reply_to: [{"to" => "owner"}]))
      expect(step.content).to eq(
        "to" => "aldo@sea.example, hollie@yard.example, office@yard.example", "cc" => "maren@yard.example",
        "reply_to" => "hollie@yard.example", "subject" => "Your Quiet Hour", "text" => "Dear Aldo Ferrant"
      )
      expect(step.words).to eq("Mail to aldo@sea.example, Hollie Banner, office@yard.example: Your Quiet Hour")
    end

    it "leaves out who has no address, a bad one, or has left, and says so" do
      to = [{"to" => "email", "field" => "boat_owner.email"}, {"to" => "owner"},
        {"to" => "field", "field" => "surveyor"}]
      linked = {3 => {"id" => 3, "title" => "Aldo", "email" => "a@b.example, c@d.example"}}
      step, = plan(mail(to:), image: {"surveyor" => "gone"}, linked:)
      expect(step.content["to"]).to eq("hollie@yard.example")
      expect(step.left_out).to eq(["what stands in Owner of the boat · E-mail is no address", "Ada Gone has left"])
      expect(step.notes).to include("left out: Ada Gone has left")
    end

    it "is not written to nobody" do
      step, = plan(mail, linked: {})
      expect(step.words)
        .to eq("Nothing to do: there is nobody to write to: Owner of the boat · E-mail is empty")
    end

    it "holds no second header in its subject" do
      step, = plan(mail(subject: "{{ record.title }}"), image: {"title" => "A\r\nBcc: all@sea.example"})
      expect(step.content["subject"]).to eq("A Bcc: all@sea.example")
    end

    it "knows what was said and how persons are reached" do
      text = "{{ event.who }} ({{ event.who.phone }}): {{ event.said }}. Yours, {{ record.owner.name }}, " \
             "{{ record.owner.email }}, {{ record.owner.team }}"
      step, = plan(mail(text:), detail: {"text" => "too dear"})
      expect(step.content["text"])
        .to eq("Hollie Banner (555 01): too dear. Yours, Hollie Banner, hollie@yard.example, Front office")
    end

    it "says where a blank of a person leads nowhere" do
      expect(problems_of(mail(text: "{{ record.owner.shoes }} {{ event.where }}"))).to contain_exactly(
        a_string_matching(/text must go over a link; Owner of a deal is none/),
        a_string_matching(/must be event.who, event.at or event.said/)
      )
    end

    it "is refused with the place of what is wrong" do
      to = [
        {"to" => "email", "field" => "value"}, {"to" => "team", "team" => "nobody"},
        {"to" => "address", "address" => "a@b.example, c@d.example"}
      ]
      found = problems_of(mail(to:, reply_to: [{"to" => "owner"}, {"to" => "owner"}]))
      expect(found).to contain_exactly(
        a_string_matching(/do.0.receivers.0.field must be an e-mail field; Value is none/),
        a_string_matching(/do.0.receivers.1.team must name a team/),
        a_string_matching(/do.0.receivers.2.address must be an address such as/),
        a_string_matching(/do.0.reply_to must be one only/)
      )
    end

    it "goes to fifty at most" do
      crowd = (1..60).map do |n|
        Yenvo::Core::Schema::Person.new(key: "p#{n}", name: "P #{n}", active: true, team: "front_office",
          email: "p#{n}@yard.example")
      end
      to = [{"to" => "team", "team" => "front_office"}]
      expect { plan(mail(to:), schema: build_schema(people: crowd)) }
        .to raise_error(Yenvo::Core::Error, "The mail would go to 60 addresses; at most 50. Write to fewer.")
    end
  end

  describe "when it leaves" do
    def leaves(**rule)
      written = Yenvo::Core::DateRule.new(direction: "after", from: "now", at: nil, day_off: "later", **rule)
      plan(mail(leaves: written))[0].leaves_at
    end

    it "waits two minutes, or as long as it says" do
      expect(plan(mail)[0].leaves_at).to eq(now + 120)
      expect(leaves(count: 0, unit: "minutes")).to eq(now)
      expect(leaves(count: 3, unit: "hours")).to eq(now + 10_800)
    end

    {
      "a Saturday" => [Time.utc(2026, 11, 28, 10), Time.utc(2026, 11, 30, 8)],
      "the night before a working day" => [Time.utc(2026, 11, 24, 3), Time.utc(2026, 11, 24, 8)],
      "noon of a working day" => [Time.utc(2026, 11, 24, 12), Time.utc(2026, 11, 24, 12, 2)],
      "Friday evening" => [Time.utc(2026, 11, 27, 21), Time.utc(2026, 11, 27, 21, 2)]
    }.each do |name, (at, leaves)|
      it "may not be before 08:00 on a working day: #{name}" do
        allow(self).to receive(:now).and_return(at)
        expect(plan(mail(not_before: "08:00"))[0].leaves_at).to eq(leaves)
      end
    end

    it "waits a week at most" do
      later = Yenvo::Core::DateRule.new(count: 8, unit: "days", direction: "after", from: "now", at: nil,
        day_off: "stays")
      expect(problems_of(mail(leaves: later))).to contain_exactly(a_string_matching(/leaves.count must be at most 7/))
      expect(problems_of(mail(leaves: later.with(count: 1, from: "event"))))
        .to contain_exactly(a_string_matching(/leaves.from must be now/))
    end
  end

  describe "a board and a call" do
    it "go where the set-up says" do
      board, = plan(doing("board", address: "yard_board", text: "{{ record.title }} needs work"))
      expect([board.destination, board.content]).to eq(
        ["address/yard_board",
          {"to" => "Yard board", "subject" => "Quiet Hour needs work", "text" => "Quiet Hour needs work"}]
      )
      call, = plan(doing("call", address: "office", read: [{"path" => "order.number", "field" => "notes"}]))
      expect(call.destination).to eq("address/office")
      expect(call.content["event"]).to eq(
        "specversion" => "1.0", "type" => "yenvo.deal.record_changed", "subject" => "deal/7",
        "time" => "2026-11-24T12:00:00.000000Z", "datacontenttype" => "application/json",
        "data" => {
          "rule" => "Tell",
          "record" => {
            "id" => 7, "kind" => "deal", "fields" => {"title" => "Quiet Hour", "value" => 120, "boat_owner" => 3}
          }
        }
      )
      expect(call.notes).to eq(["its answer is read into Notes"])
    end

    it "are refused where there is no such address, or the answer has no place" do
      expect(problems_of(doing("board", address: "office", text: "x"))).to contain_exactly(
        a_string_matching(/address must be a board of the set-up; known: yard_board/)
      )
      read = [{"path" => "a b", "field" => "days_quiet"}]
      expect(problems_of(doing("call", address: "office", read:))).to contain_exactly(
        a_string_matching(/read.0.path must be names with dots/), a_string_matching(/read.0.field must be a field that/)
      )
    end

    it "lean on their address" do
      uses = Yenvo::Core::Uses.of(a_rule(branches: [a_branch(run: [doing("call", address: "office")])]), a_schema)
      expect(uses).to include("address office")
    end
  end

  it "carry nothing to readers in the house who may not see it, and name nobody there" do
    hidden = a_schema.kind("contact").with_access(seen_by: "owner")
    schema = a_schema.with_kind(hidden)
    linked = {
      3 => {
        "id" => 3, "kind" => "contact", "title" => "Aldo", "owner" => "callum",
        "email" => "aldo@sea.example"
      }
    }
    outside, = plan(mail, schema:, linked:)
    expect([outside.content["text"], outside.words]).to eq(["Dear Aldo", "Mail to Owner of the boat · E-mail"])
    both = mail(to: [{"to" => "email", "field" => "boat_owner.email"}, {"to" => "owner"}])
    inside, = plan(both, schema:, linked:)
    expect(inside.content["text"]).not_to include("Aldo")
    expect(inside.words).to eq("Mail to Owner of the boat · E-mail, Hollie Banner: Your Quiet Hour")
    # Whoever is asked about it first reads it, too.
    asked, = plan(mail(ask: true), schema:, linked:)
    expect([asked.content["text"],
      asked.named]).to match([a_string_matching(/\A(?!.*Aldo)/), "Owner of the boat · E-mail"])
  end
end
