# frozen_string_literal: true

RSpec.describe Yenvo::Store::Outbox do
  let(:outbox) { root.outbox }

  def a_message(at: Database::NOW, **more)
    content = {"to" => "aldo@sea.example", "subject" => "Your\nkeel", "text" => "It is\nsound."}
    cause = Yenvo::Store::Journal::Cause.person("hollie", at)
    described_class::New.new(way: "mail", destination: "mail server", content:, cause:, due: at, **more)
  end

  def rows(ids) = ids.map { |id| outbox.find!(id) }

  it "writes many at one go, each as it is" do
    later = a_message(due: Database::NOW + 60)
    found = rows(outbox.write([a_message, a_message(secret: true, place: ["1", 2]), later]))
    expect(found.map { |row| row.values_at(:secret, :branch, :action) }).to eq(
      [[false, nil, nil], [true, "1", 2], [false, nil, nil]]
    )
    expect(found.map { |row| row[:due_at] - Database::NOW }).to eq([0, 0, 60])
    expect(found.map { |row| row.values_at(:subject, :by, :state) }.uniq).to eq([["Your keel", "hollie", "waiting"]])
    expect(JSON.parse(found[0][:content])).to include("subject" => "Your keel", "text" => "It is\nsound.")
  end

  it "gives each an id of its own, and later ones such as stand behind earlier ones" do
    times = [0, 0.001, 1, 86_400, 86_400 * 3_650].map { |seconds| Database::NOW + seconds }
    ids = rows(outbox.write(times.flat_map { |at| [a_message(at:), a_message(at:)] })).map { |row| row[:message_id] }
    expect(ids.uniq.size).to eq(10)
    expect(ids.each_slice(2).map(&:min)).to eq(ids.each_slice(2).map(&:min).sort)
    expect(ids).to all(match(/\A\h{31}@yenvo\z/))
  end

  it "takes nothing for nothing" do
    before = db[:deliveries].count
    outbox.write_of_rules([])
    expect([outbox.write([]), db[:deliveries].count]).to eq([[], before])
  end

  it "finds what was sent on a day, what failed, and what waits at a destination" do
    days = [0, 1, 2].map { |day| Database::NOW + (day * 86_400) }
    ids = outbox.write(days.flat_map { |at| [a_message(at:), a_message(at:)] })
    db[:deliveries].where(id: ids.values_at(1, 3, 5)).update(state: "sent")
    page = ->(**how) { outbox.page(**how).map { |row| row[:id] } }
    expect(page.call(where: {state: "sent"}, from: days[1], till: days[2])).to eq([ids[3]])
    expect(page.call(where: {state: "waiting"})).to eq(ids.values_at(4, 2, 0))
    expect(page.call(where: {state: "sent"}, before: ids[5], limit: 1)).to eq([ids[3]])
  end
end
