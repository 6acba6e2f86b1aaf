# frozen_string_literal: true

module Demo
  # Sets up Fennick Sound Boatyard: its people, teams, queues, calendar, kinds of record and sign-ins.
  class Yard
    SOURCE = File.join(__dir__, "yard.yml")
    DOMAIN = "fennick.example"

    # @param root [Yenvo::Store::Root] migrated and empty
    # @param today [Date] the local day around which dates are laid out
    def initialize(root, today:)
      @root = root
      @today = today
      @plain = Yenvo::Store::HousePlan.file(SOURCE)
    end

    # @param now [Time]
    # @param outside [Boolean] whether it is known, too, where messages go
    def set_up(now:, outside: false)
      @root.transaction do
        settings
        Yenvo::Store::HousePlan.new(@root).write(@plain)
        people
        reach_outside if outside
        @root.setup_store.changed(who: nil, now:)
        write_papers(now) if outside
        publish_forms(now) if outside
        open_doors(now) if outside
        take_mail(now) if outside
      end
    end

    # What hangs on the day of loading alone, and does not move with the story by whole weeks: when the yard is shut,
    # and who is away.
    def lay_out_around_today
      @root.setup_store.set("days_off", rests)
      db[:setups].select_hash(:epoch, :body).each do |epoch, text|
        body = JSON.parse(text)
        body["settings"]["days_off"] = rests
        db[:setups].where(epoch:).update(body: JSON.generate(body))
      end
      db[:absences].delete
      away
    end

    # From which address the yard sends mail, and where its messages go. The program of the office knows its calls by
    # the secret of its stand-in.
    def reach_outside
      @root.setup_store.set("mail_from", @plain["mail_from"])
      @plain["addresses"].each do |key, one|
        secret = Yenvo::Standins::Street::SECRET if one["way"] == "call"
        fields = JSON.generate(one["fields"] || {})
        db[:addresses].insert(key:, **one.slice("name", "way", "url").transform_keys(&:to_sym), secret:, fields:)
      end
    end

    # Texts and papers, in their first version, and the letterhead.
    # @param now [Time]
    def write_papers(now)
      cause = Yenvo::Store::Journal::Cause.person("maren", now)
      papers = Yenvo::Store::Papers.new(@root)
      @plain["texts"].each { |one| Yenvo::Store::Texts.new(@root).write(nil, one, cause:) }
      @plain["papers"].each do |one|
        bytes = paper(one["file"])
        body = (one["form"] == "markdown") ? {"text" => bytes.force_encoding("UTF-8")} : {"bytes" => bytes}
        papers.write(nil, {**one, **body}, cause:)
      end
      papers.write_letterhead(@plain["letterhead"], paper("logo.png"), cause:)
    end

    # Forms for visitors, published.
    # @param now [Time]
    def publish_forms(now)
      cause = Yenvo::Store::Journal::Cause.person("maren", now)
      @plain["forms"].each do |one|
        key = @root.forms.make(*one.values_at("name", "kind"), cause:)
        @root.forms.write(key, one["form"], cause:)
        @root.forms.publish(key, cause:)
      end
    end

    # Doors by which the stand-ins come in. They know where and with what secret.
    # @param now [Time]
    def open_doors(now)
      cause = Yenvo::Store::Journal::Cause.person("maren", now)
      @plain["doors"].each do |one|
        key, = @root.program_doors.make(*one.values_at("name", "kind"), cause:)
        @root.program_doors.write(key, {"map" => one["map"], "open" => true}, cause:)
        feed = {address: Yenvo::Standins::Feed::ADDRESS, secret: Yenvo::Standins::Feed::SECRET}
        db[:doors].where(key:).update(feed)
      end
    end

    # Addresses to which people write, beside the one from which the yard itself does.
    # @param now [Time]
    def take_mail(now)
      cause = Yenvo::Store::Journal::Cause.person("maren", now)
      @plain["mail_doors"].each do |one|
        key = @root.mail_doors.make(*one.values_at("name", "kind", "address"), cause:)
        @root.mail_doors.write(key, {**one["door"], "open" => true}, cause:)
      end
      @root.mail_doors.take_answers(true, cause:)
    end

    private

    def paper(file) = File.binread(File.join(__dir__, "papers", file))

    def db = @root.db

    def settings
      @plain["settings"].each { |name, value| @root.setup_store.set(name, value) }
      @root.setup_store.set("days_off", rests)
    end

    def rests =
      (@today.year - 1..@today.year + 1).map do |year|
        {"from" => "#{year}-12-24", "to" => "#{year + 1}-01-02", "name" => "Yard shut"}
      end

    def away = db[:absences].insert(person: "callum", from_on: @today - 3, to_on: @today + 4)

    def people
      hash = Yenvo::Store::Passwords.kept(Yenvo::Settings::DEMO_PASSWORD)
      @plain["people"].each_with_index do |(key, (name, role, team)), index|
        phone = format("+353 555 02%02d", index + 10)
        db[:people].insert(key:, name:, email: "#{key}@#{DOMAIN}", phone:, role:, team:)
        db[:memberships].insert(person: key, team:)
        db[:accounts].insert(email: "#{key}@#{DOMAIN}", password_hash: hash, person: key)
      end
      away
    end
  end
end
